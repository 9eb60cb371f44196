import { DAY_MS } from '../time/day';
import { anyPatternHolds } from '../pages/pages';
import type { PageSets } from '../pages/pattern';
import { ownValue, propsHold } from '../people/kinds/did';
import type { Goal } from './campaign';

/** What a visitor did that a goal may count: a page opened or an event reported. */
export type Happened =
  | { readonly kind: 'open'; readonly url: string; readonly title?: string | undefined; readonly labels?: readonly string[] | undefined }
  | { readonly kind: 'event'; readonly name: string; readonly props?: Readonly<Record<string, unknown>> | undefined };

/** Whether it is what the goal counts. A form or a reply belongs to its showing already and is never asked here: false. `at` (UTC ms): when it happened; `sets`: those that its patterns name. */
export function reachesGoal(goal: Goal, happened: Happened, at = 0, sets: PageSets = {}): boolean {
  if (goal.kind === 'event') return happened.kind === 'event' && happened.name === goal.event && propsHold(goal.where, happened.props, at);
  return goal.kind === 'page' && happened.kind === 'open' && anyPatternHolds(goal.pages, happened, sets) === true;
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

/** What a success is worth; null where the goal says nothing of it, or the event has no such number. */
export function valueOf(goal: Goal, props?: Readonly<Record<string, unknown>>): number | null {
  const { value } = goal;
  if (value === undefined || typeof value === 'number') return value ?? null;
  const met = ownValue(props, value.prop);
  return typeof met === 'number' && Number.isFinite(met) ? met : null;
}
