import type { VisitorRecord } from '../history/record';
import { visitorAt } from '../history/record';
import type { Page } from '../pages/address';
import { anyPatternHolds } from '../pages/pages';
import type { PagePattern } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { conditionHolds, kindOf } from '../people/condition';
import type { Counting } from '../people/kind';
import type { SegmentBody, Subject } from '../people/subject';
import { unreachable } from '../unreachable';
import type { Expr } from '../logic/expr';
import { asGroup } from '../logic/expr';
import { boundsInRange } from '../logic/range';
import { byteOf, NO, UNKNOWN, YES } from '../logic/truth';
import type { Visitor } from '../history/visitor';
import type { DayPostings, Weigh } from './postings';
import { lastViews, sumViews } from './postings';
import { DAY_MS } from '../time/day';

export interface CountingInput {
  readonly days: readonly DayPostings[];
  /** By page number; what patterns are judged on. */
  readonly pages: readonly (Page | undefined)[];
  /** When each visit on record began (UTC ms), and whose it was; in any order. */
  readonly visits: { readonly visitors: Uint32Array; readonly starts: Float64Array };
  /** Histories without page views, by visitor number; the lists hold the views. May be left out where `countingNeeds` says so. */
  readonly records?: readonly (VisitorRecord | undefined)[] | undefined;
  /** The same with their page views, for conditions that are counted by whole histories; asked for only where there is one. */
  readonly wholeRecords?: (() => readonly (VisitorRecord | undefined)[]) | undefined;
  readonly now: number;
  readonly known: Pick<Subject, 'sets' | 'segments' | 'places'>;
}

/** For each visitor number 0 not in the segment, 1 in it, 2 unknown; visitors without a visit by `now` are 0. */
export function judgeEveryone(segment: SegmentBody, input: CountingInput): Uint8Array {
  const everyone = known.get(input) ?? new Everyone(input);
  known.set(input, everyone);
  const values = everyone.judge(segment.people, { lookback: segment.lookback, within: [] });
  return values.map((value, number) => (everyone.exists(number) ? value : NO));
}

/** What was worked out of an input serves every question about it. */
const known = new WeakMap<CountingInput, Everyone>();

interface Scope {
  readonly lookback: number;
  /** Segments being worked out, so that a circle ends as unknown. */
  readonly within: readonly string[];
}

/** All visitors of a site at one instant. A class, because what it works out once (last visits, last views) serves every condition. */
class Everyone {
  readonly #input: CountingInput;
  readonly #size: number;
  #visitors: (Visitor | undefined)[] | undefined;
  #whole: (Visitor | undefined)[] | undefined;
  /** When the last visit of each visitor began; Infinity for those without one. */
  readonly #visitFrom: Float64Array;
  #last: ReturnType<typeof lastViews> | undefined;

  constructor(input: CountingInput) {
    const { visitors, starts } = input.visits;
    this.#input = input;
    this.#size = visitors.reduce((most, visitor) => Math.max(most, visitor), 0) + 1;
    this.#visitFrom = new Float64Array(this.#size).fill(-Infinity);
    starts.forEach((at, index) => {
      const visitor = visitors[index] as number;
      if (at <= input.now && at > (this.#visitFrom[visitor] as number)) this.#visitFrom[visitor] = at;
    });
    this.#visitFrom.forEach((from, visitor) => from === -Infinity && (this.#visitFrom[visitor] = Infinity));
  }

  exists(number: number): boolean {
    return this.#visitFrom[number] !== Infinity;
  }

  judge(expr: Expr<PeopleCondition>, scope: Scope): Uint8Array {
    const group = asGroup(expr);
    if (!group) return this.#leaf(expr as PeopleCondition, scope);
    const size = this.#size;
    // `none` is the negation of `any`.
    const isAll = group.join === 'all';
    const out = new Uint8Array(size).fill(isAll ? YES : NO);
    for (const part of group.parts) {
      const values = this.judge(part, scope);
      const ends = isAll ? NO : YES;
      for (let number = 0; number < size; number++) {
        if (values[number] === ends) out[number] = ends;
        else if (values[number] === UNKNOWN && out[number] !== ends) out[number] = UNKNOWN;
      }
    }
    return group.join === 'none' ? out.map((value) => (value === UNKNOWN ? UNKNOWN : 1 - value)) : out;
  }

  #leaf(condition: PeopleCondition, scope: Scope): Uint8Array {
    const { counting } = kindOf(condition);
    switch (counting.by) {
      case 'views':
        return this.#sum(counting.sum(condition), scope);
      case 'segment': {
        const id = counting.id(condition);
        const segment = Object.hasOwn(this.#input.known.segments, id) ? this.#input.known.segments[id] : undefined;
        if (!segment || scope.within.includes(id)) return new Uint8Array(this.#size).fill(UNKNOWN);
        return this.judge(segment.people, { lookback: segment.lookback, within: [...scope.within, id] });
      }
      case 'record':
        return this.#eachVisitor(condition, scope, this.#visitorsWithoutViews());
      case 'history':
        return this.#eachVisitor(condition, scope, this.#wholeVisitors());
      default:
        return unreachable(counting);
    }
  }

  #visitorsWithoutViews(): readonly (Visitor | undefined)[] {
    const { records } = this.#input;
    if (!records) throw new Error('Histories are needed to judge this segment and were left out');
    return (this.#visitors ??= this.#visitorsOf(records));
  }

  #wholeVisitors(): readonly (Visitor | undefined)[] {
    const { wholeRecords } = this.#input;
    if (!wholeRecords) throw new Error('Whole histories are needed to judge this segment and were left out');
    return (this.#whole ??= this.#visitorsOf(wholeRecords()));
  }

  #visitorsOf(records: readonly (VisitorRecord | undefined)[]): (Visitor | undefined)[] {
    return Array.from({ length: this.#size }, (_, number) => {
      const record = this.exists(number) ? records[number] : undefined;
      return record && visitorAt(record, this.#input.now);
    });
  }

  /** What the lists do not hold is judged visitor by visitor, by the core's own evaluation. */
  #eachVisitor(condition: PeopleCondition, { lookback, within }: Scope, visitors: readonly (Visitor | undefined)[]): Uint8Array {
    const { now, known } = this.#input;
    return Uint8Array.from(visitors, (visitor) => {
      if (!visitor) return NO;
      return byteOf(conditionHolds(condition, { visitor, now, lookback, within, ...known }));
    });
  }

  #sum(
    { pages, within, range, weigh: weighView }: ReturnType<Extract<Counting<PeopleCondition>, { by: 'views' }>['sum']>,
    { lookback }: Scope,
  ): Uint8Array {
    const weigh: Weigh | undefined =
      weighView && ((day, row) => weighView({ engaged: (day.engaged[row] as number) / 1000, scroll: day.scrolls[row] as number }));
    const currentWeighs = weighView?.({ engaged: 0, scroll: 0 }) ?? 0;
    const { days, now } = this.#input;
    const size = this.#size;
    const window = within === 'visit' ? { from: this.#visitFrom, upTo: now } : { after: now - (within ?? lookback) * DAY_MS, upTo: now };
    const truths = this.#truthsOf(pages);
    const { low, high } = sumViews(days, { truths, window, visitors: size, weigh, mostAsked: Math.max(range.min ?? 1, range.max ?? 0) });
    const out = new Uint8Array(size);
    const last = weigh ? (this.#last ??= lastViews(days, { from: this.#visitFrom, upTo: now, visitors: size })) : undefined;
    for (let number = 0; number < size; number++) {
      let [least, most] = [low[number] as number, high[number] as number];
      const day = last && days[last.day[number] as number];
      if (weigh && last && day) {
        // What is happening on the current page is a moment: its measures are still 0 in the history.
        const row = last.row[number] as number;
        const at = day.dayStart + (day.instants[row] as number);
        const truth = truths ? (truths[pageAt(day, row)] as number) : YES;
        const isIn = 'from' in window ? true : at > window.after;
        const excess = isIn ? weigh(day, row) - currentWeighs : 0;
        if (truth === YES) least -= excess;
        if (truth !== NO) most -= excess;
      }
      out[number] = byteOf(boundsInRange(rounded(least), rounded(most), range));
    }
    return out;
  }

  #truthsOf(patterns: readonly PagePattern[] | undefined): Uint8Array | undefined {
    if (!patterns?.length) return undefined;
    return Uint8Array.from(this.#input.pages, (page) => (page ? byteOf(anyPatternHolds(patterns, page, this.#input.known.sets)) : NO));
  }
}

/** Sums of seconds in thousandths, freed of the dust of adding and taking away. */
const rounded = (value: number): number => Math.round(value * 1000) / 1000;

function pageAt({ pages, offsets }: DayPostings, row: number): number {
  let [low, high] = [0, pages.length];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((offsets[middle] as number) <= row) low = middle;
    else high = middle;
  }
  return pages[low] as number;
}
