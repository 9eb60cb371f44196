import type { ReactNode } from 'react';

/** A number that may still be the one that was known last: paler then, and said to be busy, until it has been counted anew. */
export function Counting({ isLast, children }: { isLast: boolean; children: ReactNode }) {
  return isLast ? (
    <span aria-busy="true" title="As last counted; being counted anew" className="opacity-75">
      {children}
    </span>
  ) : (
    children
  );
}
