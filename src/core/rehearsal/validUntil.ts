import type { VisitorRecord } from '../history/record';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import type { PeopleCondition } from '../people/condition';
import { kindOf } from '../people/condition';
import type { SegmentBody, Within } from '../people/subject';
import { writeOut } from '../people/writeOut';
import { leavesOf } from '../logic/expr';
import { DAY_MS } from '../time/day';

/** Until when (exclusive, UTC ms) what a condition says of a visitor at `now` surely stays the same; `now` if that is not known. */
export type ValidUntil = (now: number, record: VisitorRecord) => number;

/** Compiles how long a condition's answer can be kept: until something comes on record, or falls out of a window. */
export function compileValidUntil(
  condition: PeopleCondition,
  segments: Readonly<Record<string, SegmentBody>>,
  lookback = LONGEST_LOOKBACK_DAYS,
): ValidUntil {
  const leaves = leavesOf(writeOut(condition, segments, [])).map(({ leaf }) => leaf);
  const changes = leaves.map((leaf) => ({ leaf, ...kindOf(leaf).changes }));
  if (changes.some(({ leaf, unforeseen }) => unforeseen?.(leaf))) return (now) => now;
  const windows = [...new Set(changes.flatMap(({ leaf, window }) => (window ? daysOf(window(leaf), lookback) : [])))];
  const clocks = changes.flatMap(({ leaf, clock }) => (clock ? [(now: number) => clock(leaf, now)] : []));
  const ages = changes.flatMap(({ leaf, ages: own }) => own?.(leaf) ?? []).filter((days) => days !== undefined);
  const asks = (what: 'events' | 'profile' | 'responses'): boolean => changes.some((one) => one[what]);
  const [asksEvents, asksChanges, asksResponses] = [asks('events'), asks('profile'), asks('responses')];

  return (now, record) => {
    let until = Infinity;
    const consider = (at: number): void => {
      if (at > now && at < until) until = at;
    };
    for (const clock of clocks) consider(clock(now));
    const first = record.visits[0]?.at;
    if (first !== undefined) for (const days of ages) [first + days * DAY_MS, first + days * DAY_MS + 1].forEach(consider);
    if (asksChanges) for (const { at } of record.changes) consider(at);
    if (asksResponses) for (const { at } of record.responses) consider(at);
    for (const visit of record.visits) {
      for (const days of windows) consider(visit.at + days * DAY_MS);
      for (const { at } of visit.events) {
        if (asksEvents) consider(at);
        for (const days of windows) consider(at + days * DAY_MS);
      }
      if (windows.length) for (const { at } of visit.views) for (const days of windows) consider(at + days * DAY_MS);
    }
    if (asksResponses) for (const { at } of record.responses) for (const days of windows) consider(at + days * DAY_MS);
    return until;
  };
}

const daysOf = (within: Within, lookback: number): number[] => (within === 'visit' ? [] : [within ?? lookback]);
