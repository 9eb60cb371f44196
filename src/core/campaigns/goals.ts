import { DAY_MS } from '../time/day';
import { anyPatternHolds } from '../pages/pages';
import type { Goal } from './campaign';

/** What a visitor did that a goal may count: a page opened or an event reported. */
export type Happened =
  | { readonly kind: 'open'; readonly url: string; readonly title?: string | undefined; readonly labels?: readonly string[] | undefined }
  | { readonly kind: 'event'; readonly name: string };

/** Whether it is what the goal counts. A form sent belongs to its showing already and is never asked here: false. */
export function reachesGoal(goal: Goal, happened: Happened): boolean {
  if (goal.kind === 'event') return happened.kind === 'event' && happened.name === goal.event;
  return goal.kind === 'page' && happened.kind === 'open' && anyPatternHolds(goal.pages, happened, {}) === true;
}

/**
 * The showing that a goal reached at `at` (UTC ms) is owed to: the last one until then that is less than `days` old; undefined if there
 * is none. The showings are one campaign's to one visitor, in any order.
 */
export function owedShowing<T extends { readonly at: number }>(
  showings: readonly T[],
  { at, days }: { at: number; days: number },
): T | undefined {
  let last: T | undefined;
  for (const showing of showings)
    if (showing.at <= at && showing.at > at - days * DAY_MS && (!last || showing.at >= last.at)) last = showing;
  return last;
}
