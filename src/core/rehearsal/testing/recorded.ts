import fc from 'fast-check';
import type { Change } from '../../history/record';
import type { Visitor } from '../../history/visitor';
import type { Budget } from '../../pacing/pacing';
import { rule, timeline, visitor } from '../../rules/testing/arbitrary';
import type { RecordedVisitor } from '../recorded';
import type { CampaignToRehearse } from '../rehearse';

/** What makes a visitor what they are, as it came on record; whether somebody is there was the other way round in earlier visits. */
export function changesOf({ visits, known, traits, tags, score, staffed }: Visitor): Change[] {
  const at = visits[0]?.at ?? 0;
  return [
    ...(known ? [{ at, kind: 'identity' as const, key: 'email', value: 'a@b.example' }] : []),
    ...Object.entries(traits).map(([key, value]) => ({ at, kind: 'trait' as const, key, value })),
    ...tags.map((key) => ({ at: at + 1000, kind: 'tag' as const, key, value: true })),
    ...(score ? [{ at, kind: 'score' as const, key: '', value: score }] : []),
    ...(staffed === undefined
      ? visits.slice(0, -1).map((visit) => ({ at: visit.at, kind: 'staffed' as const, key: '', value: true }))
      : visits.map((visit, nth) => ({ at: visit.at, kind: 'staffed' as const, key: '', value: (nth === visits.length - 1) === staffed }))),
  ].sort((a, b) => a.at - b.at);
}

/** Visitors with a timeline for every page view. */
export const recorded: fc.Arbitrary<RecordedVisitor> = fc
  .tuple(
    visitor,
    fc.array(fc.tuple(timeline, fc.boolean(), fc.boolean(), fc.option(fc.constant(['.signup']), { nil: undefined })), {
      minLength: 16,
      maxLength: 16,
    }),
    fc.integer({ min: 1, max: 99 }),
  )
  .map(([who, played, id]) => {
    const { known: _known, traits: _traits, tags: _tags, score: _score, staffed: _staffed, ...rest } = who;
    const changes = changesOf(who);
    let next = 0;
    const timelines = who.visits.map(({ views }) =>
      views.map(() => {
        const [{ signals, leave }, hidden, cannotScroll, watched] = played[next++ % played.length] as (typeof played)[0];
        return { signals, leave, hidden: hidden && signals.some(({ s }) => s === 'show'), cannotScroll, watched };
      }),
    );
    return {
      id,
      record: { ...rest, changes },
      timelines,
      visitIds: who.visits.map((_, index) => `00000000-0000-7000-8000-${String(id * 100 + index).padStart(12, '0')}`),
      viewIds: who.visits.map(({ views }, index) => views.map((_one, view) => `v${index}.${view}`)),
    };
  });

export const campaigns: fc.Arbitrary<CampaignToRehearse[]> = fc
  .array(fc.tuple(rule, fc.constantFrom('overlay' as const, 'corner' as const, 'none' as const)), { minLength: 1, maxLength: 3 })
  .map((rules) => rules.map(([one, place], index) => ({ id: `c${index}`, place, rule: one })));
export const budget: fc.Arbitrary<Budget> = fc.constantFrom({}, { perVisit: 1 }, { gapSeconds: 60 }, { perVisit: 2, gapSeconds: 10 });
