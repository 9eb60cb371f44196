import { memo } from 'react';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';

const COLOURS: Readonly<Record<string, string>> = {
  people: 'var(--people)',
  pages: 'var(--pages)',
  moment: 'var(--moment)',
  pacing: 'var(--pacing)',
};

/** From every visit down to those in which it shows, condition by condition. A step can be picked: then the visits beside are its. */
export const Steps = memo(function Steps({
  steps,
  visits,
  picked,
  onPick,
}: Pick<Rehearsed, 'steps' | 'visits'> & { picked: number | undefined; onPick: (step: number | undefined) => void }) {
  return (
    <section aria-label="From every visit to a showing">
      <h2 className="mb-2 font-bold">From every visit to a showing</h2>
      <ol className="grid gap-0.5">
        {steps.map(({ what, path, left }, index) => (
          <li key={index}>
            <button
              className="grid w-full grid-cols-[132px_minmax(0,1fr)] items-center gap-2 rounded px-1 py-0.5 text-left hover:bg-line aria-pressed:bg-line"
              aria-pressed={picked === index}
              title={`${what}: show the visits of this step`}
              onClick={() => onPick(picked === index ? undefined : index)}
            >
              <span className="truncate text-[13px]">{what}</span>
              <span className="flex items-center gap-2">
                <span
                  className="block h-3.5 min-w-px transition-[width] duration-200 motion-reduce:transition-none"
                  style={{ width: `${visits ? (72 * left) / visits : 0}%`, background: COLOURS[String(path[0] ?? '')] ?? 'var(--edge)' }}
                />
                <span className="text-xs">{left.toLocaleString('en-GB')}</span>
              </span>
            </button>
          </li>
        ))}
      </ol>
      {steps.length === 0 && <div className="skeleton h-24" role="status" aria-label="Working out the steps" />}
    </section>
  );
});
