'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { scaleBand, scaleLinear } from 'd3-scale';
import type { SiteGoal } from '@/core/campaigns/campaign';
import { fetched } from '../parts/net/call';
import { useWidth } from '../parts/layout/useWidth';

const HEIGHT = 70;
const n = (count: number): string => count.toLocaleString('en-GB');

/** How often a goal was reached on each of the last thirty days, whether it is saved or not. */
export function ReachedLately({ goal }: { goal: SiteGoal | undefined }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { data, error } = useQuery({
    queryKey: ['reached', JSON.stringify(goal)],
    placeholderData: keepPreviousData,
    queryFn: async () => {
      if (!goal) return undefined;
      return fetched('POST /api/goals/reached', { body: { goal, zone } });
    },
  });
  const days = data?.days ?? [];
  const x = scaleBand(
    days.map(({ day }) => day),
    [0, Math.max(1, width)],
  ).padding(0.2);
  const y = scaleLinear([0, Math.max(1, ...days.map(({ times }) => times))], [HEIGHT - 1, 2]);
  return (
    <section className="sheet p-5" aria-labelledby="reached">
      <h2 id="reached" className="mb-2 font-bold" aria-live="polite">
        {error
          ? error.message
          : !data
            ? 'Counting …'
            : data.times === 0
              ? 'Reached by nobody in 30 days'
              : `Reached ${n(data.times)} times in 30 days, by ${n(data.visitors)} visitors`}
      </h2>
      <div ref={ref}>
        {data && width > 0 && (
          <svg width={width} height={HEIGHT} role="img" aria-label={`By day, up to ${n(Math.max(0, ...days.map(({ times }) => times)))}`}>
            <line x1="0" x2={width} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} stroke="var(--line)" />
            {days.map(({ day, times }) => (
              <rect key={day} x={x(day)} width={x.bandwidth()} y={y(times)} height={HEIGHT - 1 - y(times)} fill="var(--pine)">
                <title>{`${day}: ${n(times)}`}</title>
              </rect>
            ))}
          </svg>
        )}
      </div>
      {data?.times === 0 && <p className="text-soft">Nothing recorded is this goal: look at the name, the pages or the condition again.</p>}
    </section>
  );
}
