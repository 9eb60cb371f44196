import type { VisitorRecord } from '../history/record';
import type { PeopleCondition } from '../people/condition';
import { calendarWakesAt } from '../people/kinds/calendar';
import type { Expr } from '../rules/expr';
import { leavesOf } from '../rules/expr';

export type Wakes = (now: number, record: Pick<VisitorRecord, 'changes' | 'responses' | 'visits'>) => number;

/**
 * When, after an instant, the people of a rule could change without a signal: by a calendar, or by an event, a trait, a tag,
 * a score, an identity or a response that comes on record, of which the page is told at once. UTC ms; undefined if never.
 */
export function compileWakes(people: Expr<PeopleCondition> | undefined): Wakes | undefined {
  const leaves = leavesOf(people).map(({ leaf }) => leaf);
  const calendars = leaves.flatMap((leaf) => (leaf.kind === 'calendar' ? [leaf] : []));
  // A segment may ask for anything.
  const asksSegment = leaves.some(({ kind }) => kind === 'segment');
  const asksChanges =
    asksSegment || leaves.some(({ kind }) => kind === 'known' || kind === 'trait' || kind === 'tagged' || kind === 'score');
  const asksResponses = asksSegment || leaves.some(({ kind }) => kind === 'response');
  const asksEvents = asksSegment || leaves.some(({ kind }) => kind === 'did');
  if (!calendars.length && !asksChanges && !asksResponses && !asksEvents) return undefined;
  return (now, { changes, responses, visits }) => {
    let next = Infinity;
    const consider = (at: number): void => {
      if (at > now && at < next) next = at;
    };
    for (const calendar of calendars) consider(calendarWakesAt(calendar, now));
    if (asksChanges) for (const { at } of changes) consider(at);
    if (asksEvents) for (const { events } of visits) for (const { at } of events) consider(at);
    if (asksResponses) for (const { at } of responses) consider(at);
    return next;
  };
}
