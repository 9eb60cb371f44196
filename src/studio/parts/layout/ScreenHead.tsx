import type { ReactNode } from 'react';

export function ScreenHead({ title, note, children }: { title: string; note?: ReactNode; children?: ReactNode }) {
  return (
    <div className="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2">
      <h1 className="text-2xl font-bold">{title}</h1>
      {note && <p className="text-soft">{note}</p>}
      {children && <div className="flex flex-wrap items-center gap-2 md:ml-auto">{children}</div>}
    </div>
  );
}
