'use client';

import { useQuery } from '@tanstack/react-query';
import type { Trend } from '@/server/analysis/task';
import { send } from '../parts/net/send';
import { Sparkline } from '../parts/layout/Sparkline';

const TEN_MINUTES_MS = 600_000;

/** A segment's row: its size and share now, and its course; all rows ask for the sizes together. */
export function SegmentSizeCells({ id }: { id: string }) {
  const { data, error } = useQuery({
    queryKey: ['sizes'],
    queryFn: async ({ signal }) => {
      const result = await send<Record<string, { people: number; of: number }>>('GET', '/api/segments/sizes', undefined, signal);
      if (!result.ok) throw new Error(result.message);
      return result.value;
    },
  });
  // The courses are drawn once the sizes are there: they take longer.
  const course = useQuery({
    queryKey: ['trends'],
    enabled: data !== undefined,
    staleTime: TEN_MINUTES_MS,
    queryFn: async ({ signal }) => {
      const result = await send<Record<string, Trend['trend']>>('GET', '/api/segments/trends', undefined, signal);
      if (!result.ok) throw new Error(result.message);
      return result.value;
    },
  });
  const size = data?.[id];
  const share = size?.of ? (100 * size.people) / size.of : 0;
  return (
    <>
      <td className="number text-base font-semibold">
        {size ? (
          size.people.toLocaleString('en-GB')
        ) : error ? (
          '?'
        ) : (
          <span className="skeleton inline-block h-5 w-12" role="status" aria-label="Counting" />
        )}
      </td>
      <td>
        {size ? (
          <span className="flex items-center gap-2 whitespace-nowrap">
            <span className="h-2 w-24 bg-line">
              <span className="block h-2 bg-people" style={{ width: `${share}%` }} />
            </span>
            {share.toFixed(1)} %
          </span>
        ) : (
          error && <span className="text-danger">{error.message}</span>
        )}
      </td>
      <td>
        {course.data ? (
          <Sparkline points={course.data[id] ?? []} label="Members over 30 days" />
        ) : (
          !course.error && <span className="skeleton inline-block h-6 w-28" />
        )}
      </td>
    </>
  );
}
