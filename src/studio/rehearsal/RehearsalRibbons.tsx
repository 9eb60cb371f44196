'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { Path } from '@/core/rules/expr';
import type { RecordedVisit } from '@/server/db/visits';
import type { Rehearsed, Spot } from '@/core/rehearsal/rehearsed';
import { send } from '../parts/send';
import { RibbonList } from '../ribbon/RibbonList';
import { useRecorded } from '../rule/recorded';

const SHOWN = 10;
const MISSED = 4;

/** Some of the visits, newest first, with a flag where it would show; among them some that just missed, each with its reason. */
export function RehearsalRibbons({
  report,
  letter,
  name,
  reasonFor,
}: {
  report: Rehearsed;
  letter: string;
  name: string;
  reasonFor: (path: Path) => string;
}) {
  const { sections } = useRecorded();
  const [only, setOnly] = useState<'both' | 'shown' | 'missed'>('both');
  const spots = useMemo(() => choose(report, only), [report, only]);
  const ids = useMemo(() => [...new Set(spots.map(({ visit }) => visit))].sort(), [spots]);
  const { data, error } = useQuery<Map<string, RecordedVisit>>({
    queryKey: ['visits', ids],
    enabled: ids.length > 0,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const result = await send<RecordedVisit[]>('POST', '/api/visits/some', { visits: ids }, signal);
      if (!result.ok) throw new Error(result.message);
      return new Map(result.value.map((visit) => [visit.id, visit]));
    },
  });
  const visits = [...new Set(spots.map(({ visit }) => visit))].flatMap((id) => data?.get(id) ?? []);
  const flags = new Map<string, { at: number; words: string; letter: string; isMissed: boolean }[]>();
  for (const { visit, at, path } of spots) {
    const words = path ? reasonFor(path) : `${name} would show`;
    flags.set(visit, [...(flags.get(visit) ?? []), { at, words, letter, isMissed: path !== undefined }]);
  }
  return (
    <section aria-label="Visits it would show in">
      <div className="mb-2 flex items-center gap-3">
        <div role="group" aria-label="Which visits" className="flex gap-1">
          {(
            [
              ['both', 'Both'],
              ['shown', 'Would show'],
              ['missed', 'Just missed'],
            ] as const
          ).map(([value, label]) => (
            <button
              key={value}
              aria-pressed={only === value}
              className={`rounded px-2 py-0.5 ${only === value ? 'bg-ink text-paper' : 'text-soft hover:text-ink'}`}
              onClick={() => setOnly(value)}
            >
              {label}
            </button>
          ))}
        </div>
        <span className="text-xs text-soft">some of them, newest first</span>
      </div>
      {error && (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      )}
      {ids.length > 0 && !data && !error && <div className="skeleton h-64" role="status" aria-label="Loading visits" />}
      {ids.length === 0 && (
        <p className="sheet p-5 text-soft">
          {only === 'missed'
            ? 'No visit just missed it.'
            : 'It would have shown in no recorded visit. The steps beside say which condition left nobody.'}
        </p>
      )}
      {visits.length > 0 && <RibbonList visits={visits} sections={sections} flags={flags} />}
    </section>
  );
}

function choose({ showings, nearMisses }: Rehearsed, only: 'both' | 'shown' | 'missed'): Spot[] {
  const newest = (spots: readonly Spot[], count: number): Spot[] => [...spots].sort((a, b) => b.at - a.at).slice(0, count);
  if (only === 'shown') return newest(showings, SHOWN + MISSED);
  if (only === 'missed') return newest(nearMisses, SHOWN + MISSED);
  const shown = newest(showings, SHOWN);
  return [...shown, ...newest(nearMisses, SHOWN + MISSED - shown.length > MISSED ? SHOWN + MISSED - shown.length : MISSED)].sort(
    (a, b) => b.at - a.at,
  );
}
