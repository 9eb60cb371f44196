import { memo } from 'react';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';

const MOST_ROWS = 5;

/** By page, device, source and place: where the showings would fall. */
export const Shares = memo(function Shares({ distributions, sure }: Pick<Rehearsed, 'distributions' | 'sure'>) {
  const { pages, devices, channels, towns } = distributions;
  const sorted = (counts: Readonly<Record<string, number>>): [string, number][] => Object.entries(counts).sort((a, b) => b[1] - a[1]);
  const groups: [string, [string, number][]][] = [
    ['Pages', pages.map(({ url, showings }) => [URL.canParse(url) ? new URL(url).pathname : url, showings])],
    ['Devices', sorted(devices)],
    ['Sources', sorted(channels)],
    ['Places', sorted(towns)],
  ];
  if (sure === 0) return null;
  return (
    <section aria-label="Where they would fall" className="grid gap-3">
      {groups.map(([name, rows]) => (
        <div key={name}>
          <h2 className="mb-1 font-bold">{name}</h2>
          <ul className="grid gap-0.5">
            {merged(rows)
              .slice(0, MOST_ROWS)
              .map(([value, count]) => (
                <li key={value} className="grid grid-cols-[minmax(0,1fr)_90px_48px] items-center gap-2">
                  <span className={`truncate text-[13px] ${name === 'Pages' ? 'font-mono' : ''}`} title={value}>
                    {value}
                  </span>
                  <span className="block h-2 bg-line">
                    <span className="block h-2 bg-pine" style={{ width: `${(100 * count) / sure}%` }} />
                  </span>
                  <span className="text-right text-xs">{count.toLocaleString('en-GB')}</span>
                </li>
              ))}
          </ul>
          {merged(rows).length > MOST_ROWS && <p className="text-xs text-soft">and {merged(rows).length - MOST_ROWS} more</p>}
        </div>
      ))}
    </section>
  );
});

/** One page under several addresses (parameters, titles) is one row. */
function merged(rows: readonly [string, number][]): [string, number][] {
  const sums = new Map<string, number>();
  for (const [value, count] of rows) sums.set(value, (sums.get(value) ?? 0) + count);
  return [...sums].sort((a, b) => b[1] - a[1]);
}
