import type { Places } from '../geo/place';
import { withStanding } from '../history/record';
import type { RecordedVisit } from '../history/record';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import type { PageSets } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { peopleHold } from '../people/condition';
import type { SegmentBody, Subject } from '../people/subject';
import type { Expr } from '../rules/expr';
import type { Truth } from '../rules/truth';
import type { Origin } from './columns';
import type { Wakes } from './wakes';

/** `visit` and `view` are column indices, instants UTC ms. */
export interface Judge {
  /** Does the visitor of a view belong to the people, at an instant of that view? */
  readonly holds: (people: Expr<PeopleCondition> | undefined, at: { visit: number; view: number; now: number }) => Truth;
  /** The next instant at which that could change without a signal. */
  readonly wakesAt: (wakes: Wakes, at: { visit: number; now: number }) => number;
}

export interface Known {
  readonly sets: PageSets;
  readonly segments: Readonly<Record<string, SegmentBody>>;
  readonly places?: Places;
}

/** Judges by the recorded histories, with every page view up to the one that asks and everything that had happened by then. */
export function judgeByRecords(origin: Origin, { sets, segments, places = {} }: Known): Judge {
  let lastView = -1;
  let visits: RecordedVisit[] = [];
  const holds: Judge['holds'] = (people, { visit, view, now }) => {
    if (people === undefined) return true;
    const visitor = origin.visitors[origin.visitor[visit] as number];
    if (!visitor) return null;
    if (view !== lastView) {
      lastView = view;
      const upTo = origin.visit[visit] as number;
      visits = visitor.record.visits.slice(0, upTo + 1);
      const current = visits[upTo];
      if (current) visits[upTo] = { ...current, views: current.views.slice(0, (origin.view[view] as number) + 1) };
    }
    const subject: Subject = {
      visitor: withStanding(visitor.record, visits, now),
      now,
      lookback: LONGEST_LOOKBACK_DAYS,
      sets,
      segments,
      places,
    };
    return peopleHold(people, subject);
  };
  const wakesAt: Judge['wakesAt'] = (wakes, { visit, now }) => {
    const visitor = origin.visitors[origin.visitor[visit] as number];
    return visitor ? wakes(now, visitor.record) : Infinity;
  };
  return { holds, wakesAt };
}
