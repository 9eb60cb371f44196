import type { VisitorRecord } from '../history/record';
import { DAY_MS, LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import type { PeopleCondition } from '../people/condition';
import { calendarWakesAt } from '../people/kinds/calendar';
import type { SegmentBody } from '../people/subject';
import { writeOut } from '../people/writeOut';
import { leavesOf } from '../rules/expr';

/** Until when (exclusive, UTC ms) what a condition says of a visitor at `now` surely stays the same; `now` if that is not known. */
export type SteadyUntil = (now: number, record: VisitorRecord) => number;

/** Compiles how long a condition's answer can be kept: until something comes on record, or falls out of a window. */
export function compileSteadiness(condition: PeopleCondition, segments: Readonly<Record<string, SegmentBody>>): SteadyUntil {
  const leaves = leavesOf(writeOut(condition, segments, [])).map(({ leaf }) => leaf);
  if (leaves.some(asksDaysAgo)) return (now) => now;
  const windows = [...new Set(leaves.flatMap((leaf) => windowOf(leaf)))];
  const calendars = leaves.flatMap((leaf) => (leaf.kind === 'calendar' ? [leaf] : []));
  const ages = leaves
    .flatMap((leaf) => (leaf.kind === 'firstSeen' ? [leaf.days.min, leaf.days.max] : []))
    .filter((days) => days !== undefined);
  const asks = (kinds: readonly PeopleCondition['kind'][]): boolean => leaves.some(({ kind }) => kinds.includes(kind));
  const [asksEvents, asksChanges, asksResponses] = [asks(['did']), asks(['known', 'trait', 'tagged', 'score']), asks(['response'])];

  return (now, record) => {
    let until = Infinity;
    const consider = (at: number): void => {
      if (at > now && at < until) until = at;
    };
    for (const calendar of calendars) consider(calendarWakesAt(calendar, now));
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

function asksDaysAgo(leaf: PeopleCondition): boolean {
  if (leaf.kind === 'trait') return leaf.test.op === 'daysAgo';
  return leaf.kind === 'did' && (leaf.where ?? []).some(({ test }) => test.op === 'daysAgo');
}

function windowOf(leaf: PeopleCondition): number[] {
  switch (leaf.kind) {
    case 'viewed':
    case 'did':
    case 'engaged':
    case 'read':
    case 'visits':
    case 'response':
      return leaf.within === 'visit' ? [] : [leaf.within ?? LONGEST_LOOKBACK_DAYS];
    default:
      return [];
  }
}
