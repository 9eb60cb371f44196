import type { Places } from '../geo/place';
import type { RecordedVisit, VisitorRecord } from '../history/record';
import { withProfile } from '../history/record';
import type { Visitor } from '../history/visitor';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import { rememberMatches } from '../pages/matcher';
import type { PageSets } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { conditionHolds } from '../people/condition';
import type { SegmentBody, Subject } from '../people/subject';
import type { Expr } from '../logic/expr';
import { evaluateExpr } from '../logic/expr';
import type { Truth } from '../logic/truth';
import type { Origin } from './columns';
import type { ValidUntil } from './validUntil';
import { compileValidUntil } from './validUntil';
import type { Wakes } from './wakes';
import { compileWakes } from './wakes';

/** `visit` and `view` are column indices, instants UTC ms. */
export interface Judge {
  /** Does the visitor of a view belong to the people, at an instant of that view? */
  readonly holds: (people: Expr<PeopleCondition> | undefined, at: { visit: number; view: number; now: number }) => Truth;
  /** The same where it stands for every instant of the view from `now` to `end`, inclusive; undefined where it may change. */
  readonly steadily: (
    people: Expr<PeopleCondition> | undefined,
    at: { visit: number; view: number; now: number },
    end: number,
  ) => Truth | undefined;
  /** The next instant (UTC ms) at which a change of that is noticed without a signal; infinite if there is none. */
  readonly wakesAt: (people: Expr<PeopleCondition> | undefined, at: { visit: number; view: number; now: number }) => number;
}

/** A judge who has the histories at hand. */
export interface RecordsJudge extends Judge {
  /** What one condition says at an instant of a view, and until when (exclusive, UTC ms) that surely stands; `now` if nobody knows. */
  readonly standing: (condition: PeopleCondition, at: { visit: number; view: number; now: number }) => { value: Truth; until: number };
}

export interface Known {
  readonly sets: PageSets;
  readonly segments: Readonly<Record<string, SegmentBody>>;
  readonly places?: Places;
}

/** What a condition said of each view's visitor, and for which instants that stands. */
interface Kept {
  readonly value: Uint8Array;
  readonly from: Float64Array;
  readonly until: Float64Array;
  readonly steadyUntil: ValidUntil;
}

/** Conditions that are kept from rule to rule: so many, or fewer where they would take more bytes. Those of a rule at work stay anyway. */
const MOST_KEPT = 80;
const LEAST_KEPT = 8;
const BYTES_A_VIEW = 17;
const MOST_BYTES = 256_000_000;
const VALUES: readonly Truth[] = [false, true, null];

/**
 * Judges by the recorded histories, with every page view up to the one that asks and everything that had happened by then.
 * What a condition said is kept as long as it surely stands: a rehearsal asks the same of a view at each of its signals,
 * and its variants share their conditions.
 */
export function judgeByRecords(origin: Origin, { sets, segments, places = {} }: Known): RecordsJudge {
  // By what a condition says: the rule of the next keystroke has the same ones as other objects.
  const kept = new Map<string, Kept>();
  const met = new WeakMap<PeopleCondition, Kept>();
  const wakes = new WeakMap<Expr<PeopleCondition>, Wakes | undefined>();
  const views = origin.view.length;
  const most = Math.max(LEAST_KEPT, Math.min(MOST_KEPT, Math.floor(MOST_BYTES / (BYTES_A_VIEW * Math.max(1, views)))));
  const matches = rememberMatches(sets);
  let lastView = -1;
  let visits: RecordedVisit[] = [];
  let unchanging: Visitor | undefined;

  function keptOf(condition: PeopleCondition): Kept {
    const known = met.get(condition);
    if (known) return known;
    const key = JSON.stringify(condition);
    let found = kept.get(key);
    if (!found) {
      const oldest = kept.size >= most ? kept.keys().next() : undefined;
      if (oldest && !oldest.done) kept.delete(oldest.value);
      found = {
        value: new Uint8Array(views),
        from: new Float64Array(views).fill(Infinity),
        until: new Float64Array(views),
        steadyUntil: compileValidUntil(condition, segments),
      };
    }
    // The one asked for last is the last to be forgotten.
    kept.delete(key);
    kept.set(key, found);
    met.set(condition, found);
    return found;
  }

  function wakesOf(people: Expr<PeopleCondition>): Wakes | undefined {
    if (!wakes.has(people)) wakes.set(people, compileWakes(people));
    return wakes.get(people);
  }

  /** Most visitors have nothing dated on record: theirs is made once for all conditions of a view. */
  function standing(record: VisitorRecord, now: number): Visitor {
    if (record.changes.length || record.responses.length) return withProfile(record, visits, now);
    return (unchanging ??= withProfile(record, visits, now));
  }

  function judge(condition: PeopleCondition, { visit, view, now }: { visit: number; view: number; now: number }): Truth {
    const known = keptOf(condition);
    if (now >= (known.from[view] as number) && now < (known.until[view] as number)) return VALUES[known.value[view] as number] as Truth;
    const visitor = origin.visitors.at(origin.visitor[visit] as number);
    if (!visitor) return null;
    if (view !== lastView) {
      lastView = view;
      unchanging = undefined;
      const upTo = origin.visit[visit] as number;
      visits = visitor.record.visits.slice(0, upTo + 1);
      const current = visits[upTo];
      if (current) visits[upTo] = upToView(current, origin.view[view] as number);
    }
    const subject: Subject = {
      visitor: standing(visitor.record, now),
      now,
      lookback: LONGEST_LOOKBACK_DAYS,
      sets,
      segments,
      places,
      matches,
    };
    const value = conditionHolds(condition, subject);
    known.value[view] = VALUES.indexOf(value);
    known.from[view] = now;
    known.until[view] = known.steadyUntil(now, visitor.record);
    return value;
  }

  return {
    holds: (people, at) => (people === undefined ? true : evaluateExpr(people, (condition) => judge(condition, at))),
    steadily: (people, at, end) => {
      if (people === undefined) return true;
      let mayChange = false;
      const value = evaluateExpr(people, (condition) => {
        const now = judge(condition, at);
        if (!((keptOf(condition).until[at.view] as number) > end)) mayChange = true;
        return now;
      });
      return mayChange ? undefined : value;
    },
    wakesAt: (people, { visit, now }) => {
      const visitor = origin.visitors.at(origin.visitor[visit] as number);
      return (people && visitor && wakesOf(people)?.(now, visitor.record)) ?? Infinity;
    },
    standing: (condition, at) => ({ value: judge(condition, at), until: keptOf(condition).until[at.view] as number }),
  };
}

/** Field by field, as in `withStanding`. */
function upToView({ at, source, views, events, location, weather }: RecordedVisit, last: number): RecordedVisit {
  return { at, source, views: views.slice(0, last + 1), events, location, weather };
}
