import type { Rehearsed } from '@/core/rehearsal/rehearsed';

const COLOURS: Readonly<Record<string, string>> = {
  people: 'var(--people)',
  pages: 'var(--pages)',
  moment: 'var(--moment)',
  pacing: 'var(--pacing)',
};

/** From every visit down to those in which it shows, condition by condition. A step can be picked as a filter. */
export function Steps({ report }: { report: Rehearsed }) {
  const { steps, visits } = report;
  return (
    <section aria-label="From every visit to a showing">
      <h2 className="mb-2 font-bold">From every visit to a showing</h2>
      <ol className="grid gap-1.5">
        {steps.map(({ what, path, left }, index) => {
          const family = String(path[0] ?? '');
          return (
            <li key={index} className="grid grid-cols-[132px_minmax(0,1fr)] items-center gap-2">
              <span className="truncate text-[13px]" title={what}>
                {what}
              </span>
              <span className="flex items-center gap-2">
                <span
                  className="block h-3.5 min-w-px transition-[width] duration-200 motion-reduce:transition-none"
                  style={{ width: `${visits ? (72 * left) / visits : 0}%`, background: COLOURS[family] ?? 'var(--edge)' }}
                />
                <span className="text-xs">{left.toLocaleString('en-GB')}</span>
              </span>
            </li>
          );
        })}
      </ol>
      {steps.length === 0 && <div className="skeleton h-24" role="status" aria-label="Working out the steps" />}
    </section>
  );
}
