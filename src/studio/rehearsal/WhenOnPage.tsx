import { bin, max, quantileSorted } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { memo } from 'react';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';
import { clockWords } from '../ribbon/layout';

const [WIDTH, HEIGHT] = [372, 58];

/** When on the page it would show, and how long before they would have left. */
export const WhenOnPage = memo(function WhenOnPage({ distributions }: Pick<Rehearsed, 'distributions'>) {
  const { secondsOnPage, secondsBeforeLeaving } = distributions;
  const median = quantileSorted([...secondsOnPage], 0.5);
  const before = quantileSorted([...secondsBeforeLeaving], 0.5);
  if (median === undefined || before === undefined) return null;
  // The longest few are gathered at the end, so that they do not squeeze all others.
  const longest = Math.max(20, (quantileSorted([...secondsOnPage], 0.97) ?? 0) * 1.1);
  const bins = bin().domain([0, longest]).thresholds(36)(secondsOnPage.map((seconds) => Math.min(seconds, longest)));
  const x = scaleLinear([0, longest], [0, WIDTH]);
  const y = scaleLinear([0, max(bins, (one) => one.length) ?? 1], [0, HEIGHT]);
  const words = `Half of the showings come within ${clockWords(median * 1000)} of opening the page; in half of them the visitor would have left ${clockWords(before * 1000)} or less later`;
  return (
    <section aria-label="When on the page">
      <h2 className="mb-2">
        <b>When on the page</b>{' '}
        <span className="text-soft">
          median {clockWords(median * 1000)} · {clockWords(before * 1000)} before leaving
        </span>
      </h2>
      <svg width="100%" viewBox={`0 0 ${WIDTH} ${HEIGHT + 16}`} role="img" aria-label={words}>
        <title>{words}</title>
        {bins.map((one, index) => {
          const [from, to] = [x(one.x0 ?? 0), x(one.x1 ?? 0)];
          return (
            <rect
              key={index}
              x={from}
              width={Math.max(1, to - from - 1)}
              y={HEIGHT - y(one.length)}
              height={y(one.length)}
              fill="var(--moment)"
              opacity="0.8"
            />
          );
        })}
        <line x1="0" x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--line)" />
        <line x1={x(median)} x2={x(median)} y1="0" y2={HEIGHT} stroke="var(--ink)" />
        <text x="0" y={HEIGHT + 13} fontSize="11" fill="var(--soft)">
          0:00
        </text>
        <text x={WIDTH} y={HEIGHT + 13} fontSize="11" fill="var(--soft)" textAnchor="end">
          {clockWords(longest * 1000)}
        </text>
      </svg>
    </section>
  );
});
