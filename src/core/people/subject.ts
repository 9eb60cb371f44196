import type { Visit, Visitor } from '../history/visitor';
import type { Places } from '../geo/place';
import type { PageMatcher } from '../pages/matcher';
import type { PageSets } from '../pages/pattern';
import type { Expr } from '../logic/expr';
import type { PeopleCondition } from './condition';
import { DAY_MS } from '../time/day';

export interface SegmentBody {
  readonly lookback: number;
  readonly people: Expr<PeopleCondition>;
}

/** Whom a people condition asks about, and when. `now` is UTC ms, `lookback` in days. */
export interface Subject {
  readonly visitor: Visitor;
  readonly now: number;
  readonly lookback: number;
  readonly sets: PageSets;
  readonly segments: Readonly<Record<string, SegmentBody>>;
  readonly places?: Places | undefined;
  /** Is somebody there to chat now? Left out where it is judged by what was noted then. */
  readonly staffed?: boolean | undefined;
  /** `anyPatternHolds` for who asks it of the same pages again and again. */
  readonly matches?: PageMatcher | undefined;
  /** The segments being worked out, so that a circle ends as unknown. */
  readonly within?: readonly string[];
}

export type Within = number | 'visit' | undefined;

/** Does the instant lie in the window of `within` days (the lookback where omitted), or of the visit under way? */
export function inWindow(at: number, within: Within, { visitor, now, lookback }: Subject): boolean {
  if (at > now) return false;
  if (within === 'visit') return at >= (visitor.visits.at(-1)?.at ?? Infinity);
  return at > now - (within ?? lookback) * DAY_MS;
}

/** The visits whose views and events can lie in the window. */
export function visitsIn(within: Within, { visitor }: Subject): readonly Visit[] {
  return within === 'visit' ? visitor.visits.slice(-1) : visitor.visits;
}
