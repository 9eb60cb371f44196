'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { LastAnswers } from '@/server/db/lastAnswers';
import { callInLines, fetched } from '../parts/net/call';
import { Counting } from '../parts/layout/Counting';
import { Sparkline } from '../parts/layout/Sparkline';

const TEN_MINUTES_MS = 600_000;

/**
 * A segment's row: its size and share now, and its course; all rows ask for the sizes together, and each shows its own as soon as it is
 * counted. Until then stands what was last said of it, paler.
 */
export function SegmentSizeCells({
  segment,
  last,
}: {
  /** Id and revision. */
  segment: string;
  last: { readonly size?: LastAnswers['sizes'][string] | undefined; readonly trend?: LastAnswers['trends'][string] | undefined };
}) {
  const client = useQueryClient();
  // A row is drawn anew for its own answer alone, however many there are.
  const {
    data: counted,
    error,
    isFetching,
    isSuccess,
  } = useQuery({
    queryKey: ['sizes'],
    select: (sizes: LastAnswers['sizes']) => sizes[segment] ?? null,
    queryFn: async ({ signal }) => {
      let all: LastAnswers['sizes'] = {};
      await callInLines('GET /api/segments/sizes', {
        signal,
        onLine: (sizes) => client.setQueryData(['sizes'], (all = sizes)),
      });
      return all;
    },
  });
  // The courses are drawn once the sizes are there: they take longer.
  const course = useQuery({
    queryKey: ['trends'],
    enabled: isSuccess && !isFetching,
    staleTime: TEN_MINUTES_MS,
    queryFn: ({ signal }) => fetched('GET /api/segments/trends', { signal }),
    select: (trends) => trends[segment] ?? null,
  });
  const size = counted ?? last.size;
  const trend = course.data ?? last.trend;
  const share = size?.of ? (100 * size.people) / size.of : 0;
  return (
    <>
      <td className="number text-base font-semibold">
        {size ? (
          <Counting isLast={!counted}>{size.people.toLocaleString('en-GB')}</Counting>
        ) : error ? (
          '?'
        ) : (
          <span className="skeleton inline-block h-5 w-12" role="status" aria-label="Counting" />
        )}
      </td>
      <td>
        {size && (
          <Counting isLast={!counted}>
            <span className="flex items-center gap-2 whitespace-nowrap">
              <span className="h-2 w-24 bg-line">
                <span className="block h-2 bg-people" style={{ width: `${share}%` }} />
              </span>
              {share.toFixed(1)} %
            </span>
          </Counting>
        )}
        {!counted && error && <span className="text-danger">{error.message}</span>}
      </td>
      <td>
        {trend ? (
          <Counting isLast={!course.data}>
            <Sparkline points={trend} label="Members over 30 days" />
          </Counting>
        ) : (
          !course.error && <span className="skeleton inline-block h-6 w-28" />
        )}
      </td>
    </>
  );
}
