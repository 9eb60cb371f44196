'use client';

import Link from 'next/link';
import { useQuery } from '@tanstack/react-query';
import type { SegmentDocument } from '@/core/rules/schema';
import { fetched } from '../parts/net/call';
import { useSettled } from '../parts/saving/useSettled';

export interface Overlap {
  readonly segments: readonly { readonly id: string; readonly name: string }[];
  /** How many people any two share; on the diagonal how many each has. A draft comes first. */
  readonly both: readonly (readonly number[])[];
}

const SETTLE_MS = 700;
const SHOWN = 6;

export function useOverlap(
  body: { readonly segments?: readonly string[]; readonly draft?: Pick<SegmentDocument, 'lookback' | 'people'> },
  isReady = true,
) {
  return useQuery({
    queryKey: ['overlap', body],
    enabled: isReady,
    queryFn: ({ signal }) => fetched('POST /api/segments/overlap', { body, signal }),
  });
}

/** Of the people in a segment under way, how many are in others too. */
export function SegmentOverlap({
  id,
  segment,
  isReady,
}: {
  id: string;
  segment: Pick<SegmentDocument, 'lookback' | 'people'>;
  isReady: boolean;
}) {
  const { lookback, people } = useSettled(segment, SETTLE_MS);
  const { data, error } = useOverlap({ draft: { lookback, people } }, isReady);
  const own = data?.both[0]?.[0] ?? 0;
  const others = (data?.segments ?? [])
    .map((other, index) => ({ ...other, both: data?.both[0]?.[index + 1] ?? 0, size: data?.both[index + 1]?.[index + 1] ?? 0 }))
    .filter((other) => other.id !== id)
    .sort((a, b) => b.both - a.both);
  if (data && others.length === 0) return null;
  return (
    <section className="sheet p-5" aria-label="Overlap with other segments">
      <h2 className="mb-2 font-bold">They are also in</h2>
      {error && (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      )}
      {!data && !error && <div className="skeleton h-24" role="status" aria-label="Comparing" />}
      <ul className="grid gap-1.5">
        {others.slice(0, SHOWN).map((other) => (
          <li
            key={other.id}
            title={`${other.both.toLocaleString('en-GB')} of ${own.toLocaleString('en-GB')}, and of the ${other.size.toLocaleString('en-GB')} there`}
          >
            <span className="flex items-baseline gap-2">
              <Link className="min-w-0 flex-1 truncate hover:underline" href={`/segments/${other.id}`}>
                {other.name}
              </Link>
              <b>{own ? `${Math.round((100 * other.both) / own)} %` : '–'}</b>
            </span>
            <span className="block h-1.5 bg-line" aria-hidden="true">
              <span className="block h-1.5 bg-people" style={{ width: `${own ? (100 * other.both) / own : 0}%` }} />
            </span>
          </li>
        ))}
      </ul>
      {others.length > SHOWN && (
        <p className="mt-2">
          <Link className="text-soft underline" href="/segments/overlap">
            all {others.length}
          </Link>
        </p>
      )}
    </section>
  );
}
