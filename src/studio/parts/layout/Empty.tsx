import type { ReactNode } from 'react';

/** An empty list teaches with an example and a button for the next step. */
export function Empty({ title, children, action }: { title: string; children: ReactNode; action?: ReactNode }) {
  return (
    <div className="sheet grid max-w-2xl gap-3 p-8">
      <h2 className="text-xl font-bold">{title}</h2>
      <div className="text-soft">{children}</div>
      {action && <div>{action}</div>}
    </div>
  );
}
