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
import { DAY_MS } from '../time/day';
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

/**
 * What a condition said of each view's visitor. Nearly always that stands from the view's beginning for a day at least, which takes a
 * byte a view; for which instants the rest stands is written down in blocks of views that are made once one of them needs it.
 */
interface Kept {
  /** By view: 0 where it was not asked yet, else 1 and more for `VALUES`, and `TIMED` more where the block says when that stands. */
  readonly value: Uint8Array;
  /** By block, of each of its views from when and until when (exclusive), UTC ms. */
  readonly timed: (Float64Array | undefined)[];
  readonly validUntil: ValidUntil;
  bytes: number;
}

/** Conditions that are kept from rule to rule: so many, or fewer where they would take more bytes. Those of a rule at work stay anyway. */
const MOST_KEPT = 80;
const LEAST_KEPT = 8;
const MOST_BYTES = 256_000_000;
const TIMED = 4;
const BLOCK_VIEWS = 16_384;
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
      const value = new Uint8Array(origin.view.length);
      found = { value, timed: [], validUntil: compileValidUntil(condition, segments), bytes: value.length };
    }
    // The one asked for last is the last to be forgotten.
    kept.delete(key);
    kept.set(key, found);
    met.set(condition, found);
    forgetSome();
    return found;
  }

  function forgetSome(): void {
    let bytes = [...kept.values()].reduce((sum, one) => sum + one.bytes, 0);
    for (const [key, { bytes: own }] of kept) {
      if (kept.size <= LEAST_KEPT || (kept.size <= MOST_KEPT && bytes <= MOST_BYTES)) return;
      kept.delete(key);
      bytes -= own;
    }
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

  /** Until when (exclusive, UTC ms) what is kept of a view stands, asked at an instant of it; 0 where that is not known. */
  function standsUntil({ value, timed }: Kept, view: number, now: number): number {
    const said = value[view] as number;
    if (said === 0) return 0;
    const began = origin.viewAt[view] as number;
    if (said < TIMED) return now < began + DAY_MS ? began + DAY_MS : 0;
    const block = timed[Math.floor(view / BLOCK_VIEWS)] as Float64Array;
    const place = 2 * (view % BLOCK_VIEWS);
    const until = block[place + 1] as number;
    return now >= (block[place] as number) && now < until ? until : 0;
  }

  function note(known: Kept, view: number, { value, from, until }: { value: Truth; from: number; until: number }): void {
    const began = origin.viewAt[view] as number;
    const isTimed = from !== began || until < began + DAY_MS;
    known.value[view] = VALUES.indexOf(value) + 1 + (isTimed ? TIMED : 0);
    if (!isTimed) return;
    const nth = Math.floor(view / BLOCK_VIEWS);
    let block = known.timed[nth];
    if (!block) {
      block = known.timed[nth] = new Float64Array(2 * BLOCK_VIEWS);
      known.bytes += block.byteLength;
    }
    block.set([from, until], 2 * (view % BLOCK_VIEWS));
  }

  function judge(condition: PeopleCondition, { visit, view, now }: { visit: number; view: number; now: number }): Truth {
    const known = keptOf(condition);
    if (standsUntil(known, view, now)) return VALUES[((known.value[view] as number) % TIMED) - 1] as Truth;
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
    // Asked late, it may well have stood since the view began.
    const began = origin.viewAt[view] as number;
    const sinceBegan = known.validUntil(began, visitor.record);
    const [from, until] = sinceBegan > now ? [began, sinceBegan] : [now, known.validUntil(now, visitor.record)];
    if (until > now) note(known, view, { value, from, until });
    return value;
  }

  return {
    holds: (people, at) => (people === undefined ? true : evaluateExpr(people, (condition) => judge(condition, at))),
    steadily: (people, at, end) => {
      if (people === undefined) return true;
      let mayChange = false;
      const value = evaluateExpr(people, (condition) => {
        const value = judge(condition, at);
        if (!(standsUntil(keptOf(condition), at.view, at.now) > end)) mayChange = true;
        return value;
      });
      return mayChange ? undefined : value;
    },
    wakesAt: (people, { visit, now }) => {
      const visitor = origin.visitors.at(origin.visitor[visit] as number);
      return (people && visitor && wakesOf(people)?.(now, visitor.record)) ?? Infinity;
    },
    standing: (condition, at) => ({ value: judge(condition, at), until: standsUntil(keptOf(condition), at.view, at.now) || at.now }),
  };
}

/** Field by field, as in `withStanding`. */
function upToView({ at, source, views, events, location, weather }: RecordedVisit, last: number): RecordedVisit {
  return { at, source, views: views.slice(0, last + 1), events, location, weather };
}
