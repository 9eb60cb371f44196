import type { VisitorRecord } from '../history/record';
import type { PeopleCondition } from '../people/condition';
import { kindOf } from '../people/condition';
import type { Expr } from '../logic/expr';
import { leavesOf } from '../logic/expr';

export type Wakes = (now: number, record: Pick<VisitorRecord, 'changes' | 'responses' | 'visits'>) => number;

/**
 * When, after an instant, the people of a rule could change without a signal: by a calendar, or by an event, a trait, a tag,
 * a score, an identity or a response that comes on record, of which the page is told at once. UTC ms; undefined if never.
 */
export function compileWakes(people: Expr<PeopleCondition> | undefined): Wakes | undefined {
  const kinds = leavesOf(people).map(({ leaf }) => ({ leaf, ...kindOf(leaf).changes }));
  const clocks = kinds.flatMap(({ leaf, clock }) => (clock ? [(now: number) => clock(leaf, now)] : []));
  const asks = (what: 'events' | 'profile' | 'responses'): boolean => kinds.some((one) => one[what]);
  const [asksEvents, asksChanges, asksResponses] = [asks('events'), asks('profile'), asks('responses')];
  if (!clocks.length && !asksChanges && !asksResponses && !asksEvents) return undefined;
  return (now, { changes, responses, visits }) => {
    let next = Infinity;
    const consider = (at: number): void => {
      if (at > now && at < next) next = at;
    };
    for (const clock of clocks) consider(clock(now));
    if (asksChanges) for (const { at } of changes) consider(at);
    if (asksEvents) for (const { events } of visits) for (const { at } of events) consider(at);
    if (asksResponses) for (const { at } of responses) consider(at);
    return next;
  };
}
