import type { Page } from '../pages/address';
import { anyPatternHolds } from '../pages/pages';
import type { PagePattern } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { kindOf } from '../people/condition';
import type { Counting } from '../people/kind';
import type { SegmentBody, Subject } from '../people/subject';
import { unreachable } from '../unreachable';
import type { Expr } from '../logic/expr';
import { asGroup, leavesOf } from '../logic/expr';
import { boundsInRange } from '../logic/range';
import { byteOf, NO, UNKNOWN, YES } from '../logic/truth';
import type { DayPostings, Weigh } from './postings';
import { lastViews, sumViews } from './postings';
import type { AskedOfHistory, Histories } from './standing';
import { Standing } from './standing';
import { DAY_MS } from '../time/day';

export interface CountingInput {
  readonly days: readonly DayPostings[];
  /** By page number; what patterns are judged on. */
  readonly pages: readonly (Page | undefined)[];
  /** When each visit on record began (UTC ms), and whose it was; in any order. */
  readonly visits: { readonly visitors: Uint32Array; readonly starts: Float64Array };
  /** May be left out where `countingNeeds` says so. */
  readonly histories?: Histories | undefined;
  /** What was worked out of the same histories for an earlier instant. Only questions about instants that rise may share it. */
  readonly standing?: Standing | undefined;
  readonly now: number;
  readonly known: Pick<Subject, 'sets' | 'segments' | 'places'>;
}

/** For each visitor number 0 not in the segment, 1 in it, 2 unknown; visitors without a visit by `now` are 0. */
export function judgeEveryone(segment: SegmentBody, input: CountingInput): Uint8Array {
  const everyone = everyoneOf(input);
  everyone.prepare([segment]);
  const values = everyone.judge(segment.people, { lookback: segment.lookback, within: [] });
  const out = new Uint8Array(values.length);
  const { firstVisit } = everyone;
  for (let number = 0; number < out.length; number++)
    out[number] = (firstVisit[number] as number) <= input.now ? (values[number] as number) : NO;
  return out;
}

/** How many are surely in it: what counting the ones of `judgeEveryone` gives, without making them. */
export function countMembers(segment: SegmentBody, input: CountingInput): number {
  const everyone = everyoneOf(input);
  everyone.prepare([segment]);
  const values = everyone.judge(segment.people, { lookback: segment.lookback, within: [] });
  const { firstVisit } = everyone;
  let count = 0;
  for (let number = 0; number < values.length; number++) if (values[number] === YES && (firstVisit[number] as number) <= input.now) count++;
  return count;
}

/** Looks at each history once for what all of these segments ask of it; each is then judged quickly. */
export function prepare(segments: readonly SegmentBody[], input: CountingInput): void {
  everyoneOf(input).prepare(segments);
}

/** What was worked out of an input serves every question about it. */
const known = new WeakMap<CountingInput, Everyone>();

function everyoneOf(input: CountingInput): Everyone {
  const everyone = known.get(input) ?? new Everyone(input);
  known.set(input, everyone);
  return everyone;
}

const firsts = new WeakMap<CountingInput['visits'], Float64Array>();

/** The same visits are looked through once, whatever instants are asked about. */
function firstVisits(visits: CountingInput['visits']): Float64Array {
  const known = firsts.get(visits);
  if (known) return known;
  let most = 0;
  for (const visitor of visits.visitors) if (visitor > most) most = visitor;
  const first = new Float64Array(most + 1).fill(Infinity);
  visits.visitors.forEach((visitor, index) => {
    const at = visits.starts[index] as number;
    if (at < (first[visitor] as number)) first[visitor] = at;
  });
  firsts.set(visits, first);
  return first;
}

type Scope = Omit<AskedOfHistory, 'condition'>;

/** All visitors of a site at one instant. A class, because what it works out once (last visits, last views) serves every condition. */
class Everyone {
  readonly #input: CountingInput;
  readonly #size: number;
  readonly #standing: Standing;
  /** When the first visit of each visitor began, UTC ms; Infinity for those who have none. */
  readonly firstVisit: Float64Array;
  #lastVisit: Float64Array | undefined;
  #last: ReturnType<typeof lastViews> | undefined;

  constructor(input: CountingInput) {
    this.#input = input;
    this.firstVisit = firstVisits(input.visits);
    this.#size = this.firstVisit.length;
    this.#standing = input.standing ?? new Standing();
  }

  /** When the last visit of each visitor began; Infinity for those without one. */
  get #visitFrom(): Float64Array {
    if (this.#lastVisit) return this.#lastVisit;
    const { visitors, starts } = this.#input.visits;
    const from = new Float64Array(this.#size).fill(-Infinity);
    for (let index = 0; index < starts.length; index++) {
      const [at, visitor] = [starts[index] as number, visitors[index] as number];
      if (at <= this.#input.now && at > (from[visitor] as number)) from[visitor] = at;
    }
    for (let visitor = 0; visitor < from.length; visitor++) if (from[visitor] === -Infinity) from[visitor] = Infinity;
    return (this.#lastVisit = from);
  }

  prepare(segments: readonly SegmentBody[]): void {
    const asked = segments.flatMap(({ people, lookback }) => this.#askedOfHistories(people, { lookback, within: [] }));
    if (asked.length > 0) this.#judge(asked);
  }

  #askedOfHistories(expr: Expr<PeopleCondition>, scope: Scope): AskedOfHistory[] {
    return leavesOf(expr).flatMap(({ leaf }) => {
      const { counting } = kindOf(leaf);
      if (counting.by === 'record' || counting.by === 'history') return [{ condition: leaf, ...scope }];
      const inner = counting.by === 'segment' ? this.#segment(counting.id(leaf), scope) : undefined;
      return inner ? this.#askedOfHistories(inner.people, inner.scope) : [];
    });
  }

  #segment(id: string, { within }: Scope): { people: Expr<PeopleCondition>; scope: Scope } | undefined {
    const segment = Object.hasOwn(this.#input.known.segments, id) ? this.#input.known.segments[id] : undefined;
    if (!segment || within.includes(id)) return undefined;
    return { people: segment.people, scope: { lookback: segment.lookback, within: [...within, id] } };
  }

  /** What the lists do not hold is judged visitor by visitor, by the core's own evaluation. */
  #judge(asked: readonly AskedOfHistory[]): Uint8Array[] {
    const { now, known, histories } = this.#input;
    if (!histories) throw new Error('Histories are needed to judge this segment and were left out');
    return this.#standing.judge(asked, { now, known, histories, size: this.#size, exists: (visitor) => this.exists(visitor) });
  }

  exists(number: number): boolean {
    return (this.firstVisit[number] as number) <= this.#input.now;
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
        const inner = this.#segment(counting.id(condition), scope);
        return inner ? this.judge(inner.people, inner.scope) : new Uint8Array(this.#size).fill(UNKNOWN);
      }
      case 'record':
      case 'history':
        return this.#judge([{ condition, ...scope }])[0] as Uint8Array;
      default:
        return unreachable(counting);
    }
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
