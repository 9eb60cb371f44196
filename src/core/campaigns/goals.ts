import { DAY_MS } from '../time/day';
import { anyPatternHolds } from '../pages/pages';
import type { PageSets } from '../pages/pattern';
import { ownValue, propsHold, whereWords } from '../people/kinds/did';
import { patternWords } from '../pages/pattern';
import type { Goal, SiteGoal } from './campaign';

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

/** Without which of the site's goals it is a copy of: that says nothing of what counts. */
export function plainGoal(goal: Goal): Goal {
  if (goal.kind !== 'page' && goal.kind !== 'event') return goal;
  const { named: _named, ...plain } = goal;
  return plain;
}

/** What a success is worth; null where the goal says nothing of it, or the event has no such number. */
export function valueOf(goal: Goal, props?: Readonly<Record<string, unknown>>): number | null {
  const { value } = goal;
  if (value === undefined || typeof value === 'number') return value ?? null;
  const met = ownValue(props, value.prop);
  return typeof met === 'number' && Number.isFinite(met) ? met : null;
}

/** "“booking” where value is at least 100 within 3 days, worth what it says in value". `setName`: of a page set by its id. */
export function siteGoalWords(goal: SiteGoal, setName: (id: string) => string): string {
  const what =
    goal.kind === 'event'
      ? `“${goal.event}”${whereWords(goal.where)}`
      : `a page ${goal.pages.map((pattern) => patternWords(pattern, setName)).join(' or ')}`;
  const worth =
    goal.value === undefined ? '' : typeof goal.value === 'number' ? `, worth ${goal.value}` : `, worth what it says in ${goal.value.prop}`;
  return `${what} within ${goal.days} ${goal.days === 1 ? 'day' : 'days'}${worth}`;
}
