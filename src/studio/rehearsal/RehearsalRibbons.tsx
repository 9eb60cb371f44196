'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { memo, useMemo, useState } from 'react';
import type { Rehearsed, Spot } from '@/core/rehearsal/rehearsed';
import { newest } from '@/core/rehearsal/rehearsed';
import type { RecordedVisit } from '@/server/db/visits';
import { call } from '../parts/net/call';
import type { RehearsedFlag } from '../ribbon/layout';
import { RibbonList } from '../ribbon/RibbonList';
import { useRecorded } from '../rule/recorded';

const SHOWN = 10;
const MISSED = 4;

type Only = 'both' | 'shown' | 'missed';
const ONLY: readonly (readonly [Only, string])[] = [
  ['both', 'Both'],
  ['shown', 'Would show'],
  ['missed', 'Just missed'],
];
const OF_STEP: readonly (readonly [Only, string])[] = [
  ['shown', 'Left after it'],
  ['missed', 'Taken by it'],
];

/**
 * Some of the visits, newest first, with a flag where it would show; among them some that just missed, each with its reason.
 * With a step: those that are left after it, or those that it takes.
 */
export const RehearsalRibbons = memo(function RehearsalRibbons({
  showings,
  nearMisses,
  step,
  onAllSteps,
  letter,
  name,
}: Pick<Rehearsed, 'showings' | 'nearMisses'> & {
  step: Rehearsed['steps'][number] | undefined;
  onAllSteps: () => void;
  letter: string;
  name: string;
}) {
  const { sections } = useRecorded();
  const [onlyNow, setOnly] = useState<Only>('both');
  const only = step && onlyNow === 'both' ? 'shown' : onlyNow;
  const spots = useMemo(
    () =>
      step
        ? chosen(
            step.stay,
            step.go.map((spot) => ({ ...spot, why: `taken by “${step.what}”` })),
            only,
          )
        : chosen(showings, nearMisses, only),
    [showings, nearMisses, step, only],
  );
  const wanted = JSON.stringify([...new Set(spots.map(({ spot }) => spot.visit))].sort());
  const ids = useMemo(() => JSON.parse(wanted) as string[], [wanted]);
  const { data, error } = useQuery<Map<string, RecordedVisit>>({
    queryKey: ['visits', ids],
    enabled: ids.length > 0,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const result = await call('POST /api/visits/some', { body: { visits: ids }, signal });
      if (!result.ok) throw new Error(result.message);
      return new Map(result.value.map((visit) => [visit.id, visit]));
    },
  });
  const visits = useMemo(() => [...new Set(spots.map(({ spot }) => spot.visit))].flatMap((id) => data?.get(id) ?? []), [spots, data]);
  const flags = useMemo(() => {
    const shows = step ? `fires here with all up to “${step.what}”` : `${name} would show`;
    const found = new Map<string, RehearsedFlag[]>();
    for (const { spot, isMissed } of spots) {
      const words = isMissed ? (spot.why ?? 'just missed') : shows;
      found.set(spot.visit, [...(found.get(spot.visit) ?? []), { at: spot.at, words, letter, isMissed }]);
    }
    return found;
  }, [spots, step, letter, name]);
  return (
    <section aria-label="Visits it would show in">
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        {step && (
          <button className="act-quiet flex items-center gap-1.5 py-0.5" onClick={onAllSteps} aria-label={`Leave the step “${step.what}”`}>
            <span className="max-w-48 truncate">{step.what}</span> <X size={14} aria-hidden />
          </button>
        )}
        <div role="group" aria-label="Which visits" className="flex gap-1">
          {(step ? OF_STEP : ONLY).map(([value, label]) => (
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
      {ids.length === 0 && <p className="sheet p-5 text-soft">{step ? WORDS_OF_STEP[only] : WORDS[only]}</p>}
      {visits.length > 0 && ids.length > 0 && <RibbonList visits={visits} sections={sections} flags={flags} />}
    </section>
  );
});

const NOWHERE = 'It would have shown in no recorded visit. The steps beside say which condition left nobody.';
const WORDS: Readonly<Record<Only, string>> = { both: NOWHERE, shown: NOWHERE, missed: 'No visit just missed it.' };
const WORDS_OF_STEP: Readonly<Record<Only, string>> = {
  both: 'No visit is left after it.',
  shown: 'No visit is left after it.',
  missed: 'It takes no visit: everyone left by the conditions before it meets it too.',
};

/** Some of both kinds, or of one. */
function chosen(shown: readonly Spot[], missed: readonly Spot[], only: Only): { spot: Spot; isMissed: boolean }[] {
  const shows = newest(shown, only === 'both' ? SHOWN : SHOWN + MISSED);
  const misses = newest(missed, only === 'both' ? Math.max(MISSED, SHOWN + MISSED - shows.length) : SHOWN + MISSED);
  return [
    ...(only === 'missed' ? [] : shows.map((spot) => ({ spot, isMissed: false }))),
    ...(only === 'shown' ? [] : misses.map((spot) => ({ spot, isMissed: true }))),
  ].sort((a, b) => b.spot.at - a.spot.at);
}
