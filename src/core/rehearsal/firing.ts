// The instant at which a moment first fires in one recorded view, straight from the columns: what a campaign that meets no other
// needs. It says what the decider says, which is asked for everything else.
import { ENGAGED_MS } from '../moments/timeline';
import type { Moment } from '../moments/moment';
import { propsHold } from '../people/kinds/did';
import type { Expr } from '../logic/expr';
import { asGroup, leavesOf } from '../logic/expr';
import type { Argument, Columns } from './columns';
import { SIGNAL_KINDS } from './columns';
import type { ViewOf } from './mayFire';
import { NO, UNKNOWN, YES } from '../logic/truth';

/** Truths as numbers, so that nothing is made in the innermost loop. */
type Value = typeof NO | typeof YES | typeof UNKNOWN;

const NO_SIGNAL = -1;
const numberOf = (kind: (typeof SIGNAL_KINDS)[number]): number => SIGNAL_KINDS.indexOf(kind);
const [SCROLL, CLICK, INPUT, EXIT] = [numberOf('scroll'), numberOf('click'), numberOf('input'), numberOf('exit')];
const [SEEN, EVENT, HIDE, SHOW, WHOLE] = [numberOf('seen'), numberOf('event'), numberOf('hide'), numberOf('show'), numberOf('whole')];
/** Leaves that name elements are kept as bits. */
const MOST_ELEMENTS = 30;

/** One view as it stands at `t`: the numbers of a timeline. */
class Standing {
  t = 0;
  visible = true;
  lastInput = 0;
  engagedMs = 0;
  depth = 0;
  scrolled = false;
  clicks = 0;
  /** The signal of this very instant, and the last input as it stood before that; NaN if the tab was hidden then. */
  signal = NO_SIGNAL;
  idleSince = NaN;
  /** Bit n: the element of the nth leaf that names one has been clicked, or reached. */
  met = 0;
  events: number[] = [];
  openedAt = 0;
  watched = 0;
  visitElapsed = 0;
  visitEngaged = 0;
  visitClicks = 0;

  open({ columns, view, visitElapsed, visitEngaged, visitClicks }: ViewOf): void {
    const flags = columns.flags[view] as number;
    this.t = this.lastInput = this.engagedMs = this.clicks = this.met = 0;
    this.visible = (flags & 1) === 0;
    this.depth = flags & 2 ? 100 : 0;
    this.scrolled = false;
    this.signal = NO_SIGNAL;
    if (this.events.length) this.events = [];
    this.openedAt = columns.viewAt[view] as number;
    this.watched = columns.watched[view] as number;
    this.visitElapsed = visitElapsed;
    this.visitEngaged = visitEngaged;
    this.visitClicks = visitClicks;
  }

  engagedAt(t: number): number {
    return this.engagedMs + (this.visible ? Math.max(0, Math.min(t, this.lastInput + ENGAGED_MS) - this.t) : 0);
  }

  advanceTo(t: number): void {
    this.engagedMs = this.engagedAt(t);
    this.t = t;
    this.signal = NO_SIGNAL;
  }
}

type Test = (now: Standing) => Value;
type Clock = (now: Standing) => number;
/** Which arguments of signals mean the element of a leaf. */
interface Element {
  readonly kind: number;
  readonly means: Uint8Array;
}

/** `from` in ms since the opening; the instant in the same, undefined if it never fires. */
export type Firing = (at: ViewOf, from: number, unknownShows: boolean) => number | undefined;

/** Undefined where the moment has leaves that only the whole timeline can tell. */
export function compileFiring(moment: Expr<Moment> | undefined, columns: Columns): Firing | undefined {
  const leaves = leavesOf(moment).map(({ leaf }) => leaf);
  const elements: Element[] = [];
  if (leaves.some((leaf) => !firingOf(leaf))) return undefined;
  if (leaves.filter(({ kind }) => kind === 'reach' || kind === 'click').length > MOST_ELEMENTS) return undefined;
  const holds: Test = moment === undefined ? () => YES : compileTest(moment, { columns, elements });
  const clocks = leaves.flatMap((leaf) => firingOf(leaf)?.clock?.(leaf) ?? []);
  const asksEvents = leaves.some(({ kind }) => kind === 'event');
  const { firstSignal, kind: kinds, t: times, argument } = columns;
  const now = new Standing();

  function fires(from: number, unknownShows: boolean): boolean {
    if (!now.visible || now.t < from) return false;
    const value = holds(now);
    return value === YES || (value === UNKNOWN && unknownShows);
  }

  /** Goes from clock to clock up to `end`; says whether one fired, and stands at it then. */
  function runClocks(end: number, isInclusive: boolean, from: number, unknownShows: boolean): boolean {
    for (;;) {
      let next = from > now.t ? from : Infinity;
      for (const clock of clocks) next = Math.min(next, clock(now));
      if (isInclusive ? next > end : next >= end) return false;
      now.advanceTo(next);
      if (fires(from, unknownShows)) return true;
    }
  }

  function take(index: number): void {
    const kind = kinds[index] as number;
    now.advanceTo(Math.max(times[index] as number, now.t));
    now.signal = kind;
    now.idleSince = now.visible ? now.lastInput : NaN;
    if (kind === SCROLL) {
      now.depth = Math.max(now.depth, argument[index] as number);
      now.scrolled = true;
    } else if (kind === CLICK) now.clicks++;
    else if (kind === WHOLE) now.depth = 100;
    else if (kind === HIDE) now.visible = false;
    else if (kind === SHOW) now.visible = true;
    else if (kind === EVENT && asksEvents) now.events.push(argument[index] as number);
    if (kind === SCROLL || kind === CLICK || kind === INPUT || kind === SHOW) now.lastInput = now.t;
    if (kind === CLICK || kind === SEEN)
      for (let nth = 0; nth < elements.length; nth++) {
        const element = elements[nth] as Element;
        if (element.kind === kind && element.means[argument[index] as number]) now.met |= 1 << nth;
      }
  }

  return (at, from, unknownShows) => {
    const { view } = at;
    const [first, end] = [firstSignal[view] as number, firstSignal[view + 1] as number];
    now.open(at);
    if (first === end || (times[first] as number) > 0) {
      now.advanceTo(0);
      if (fires(from, unknownShows)) return now.t;
    }
    for (let index = first; index < end; index++) {
      if (runClocks(times[index] as number, false, from, unknownShows)) return now.t;
      take(index);
      if (fires(from, unknownShows)) return now.t;
    }
    return runClocks(columns.leave[view] as number, true, from, unknownShows) ? now.t : undefined;
  };
}

const truth = (is: boolean): Value => (is ? YES : NO);

function compileTest(moment: Expr<Moment>, compiled: Compiled): Test {
  const group = asGroup(moment);
  if (!group) return compileLeaf(moment as Moment, compiled);
  const parts = group.parts.map((part) => compileTest(part, compiled));
  const decides = group.join === 'all' ? NO : YES;
  const join: Test = (now) => {
    let value: Value = decides === NO ? YES : NO;
    for (const part of parts) {
      const met = part(now);
      if (met === decides) return met;
      if (met === UNKNOWN) value = UNKNOWN;
    }
    return value;
  };
  if (group.join !== 'none') return join;
  return (now) => {
    const value = join(now);
    return value === UNKNOWN ? UNKNOWN : truth(value === NO);
  };
}

interface Compiled {
  readonly columns: Columns;
  readonly elements: Element[];
}
interface FiringKind<C> {
  readonly test: (moment: C, compiled: Compiled) => Test;
  /** When a clock could turn it true, in ms since the opening, if no signal comes; infinite if it never will, or has. */
  readonly clock?: (moment: C) => Clock;
}

const toMs = (seconds: number): number => Math.round(seconds * 1000);

/** Of each kind, how it is judged by the numbers of a view; undefined where only the whole timeline tells. */
const FIRING: { readonly [K in Moment['kind']]: FiringKind<Extract<Moment, { kind: K }>> | undefined } = {
  open: { test: () => () => YES },
  delay: {
    test: ({ seconds, of, counting }) => {
      const target = toMs(seconds);
      const ofVisit = of === 'visit' ? 1 : 0;
      if (counting === 'engaged') return (now) => truth(now.engagedMs + ofVisit * now.visitEngaged >= target);
      return (now) => truth(now.t + ofVisit * now.visitElapsed >= target);
    },
    clock: ({ seconds, of, counting }) => {
      const target = toMs(seconds);
      const ofVisit = of === 'visit' ? 1 : 0;
      if (counting !== 'engaged')
        return (now) => {
          const left = target - now.t - ofVisit * now.visitElapsed;
          return left > 0 ? now.t + left : Infinity;
        };
      return (now) => {
        const left = target - now.engagedMs - ofVisit * now.visitEngaged;
        return left > 0 && now.visible && now.t + left <= now.lastInput + ENGAGED_MS ? now.t + left : Infinity;
      };
    },
  },
  scroll: {
    test:
      ({ atLeast }) =>
      (now) =>
        truth(now.depth >= atLeast),
  },
  scrollStart: { test: () => (now) => truth(now.scrolled) },
  click: { test: ({ selector }, compiled) => compileElement({ kind: CLICK, selector }, compiled) },
  reach: { test: ({ selector }, compiled) => compileElement({ kind: SEEN, selector }, compiled) },
  clicks: {
    test: ({ atLeast, of }) => {
      const ofVisit = of === 'visit' ? 1 : 0;
      return (now) => truth(now.clicks + ofVisit * now.visitClicks >= atLeast);
    },
  },
  event: {
    test:
      ({ name, where }, { columns }) =>
      (now) =>
        truth(
          now.events.some((index) => {
            const event = columns.arguments[index] as Extract<Argument, { s: 'event' }>;
            return event.name === name && propsHold(where, event.props, now.openedAt + now.t);
          }),
        ),
  },
  idle: {
    test: ({ seconds }) => {
      const target = toMs(seconds);
      return (now) => {
        if (now.signal === NO_SIGNAL) return truth(now.visible && now.t - now.lastInput >= target);
        return truth(now.t - now.idleSince >= target);
      };
    },
    clock: ({ seconds }) => {
      const target = toMs(seconds);
      return (now) => (now.visible && now.lastInput + target > now.t ? now.lastInput + target : Infinity);
    },
  },
  exit: { test: () => (now) => truth(now.signal === EXIT) },
  visible: undefined,
};

const firingOf = (moment: Moment): FiringKind<Moment> | undefined => FIRING[moment.kind] as FiringKind<Moment> | undefined;

function compileLeaf(moment: Moment, compiled: Compiled): Test {
  const kind = firingOf(moment);
  if (!kind) throw new Error(`"${moment.kind}" needs the whole timeline`);
  return kind.test(moment, compiled);
}

/** Unknown where nobody watched the element and nothing says that it was met. */
function compileElement({ kind, selector }: { kind: number; selector: string }, { columns, elements }: Compiled): Test {
  const means = Uint8Array.from(columns.arguments, (one) => {
    if (one.s === 'click') return Number(kind === CLICK && one.on.includes(selector));
    return Number(one.s === 'seen' && kind === SEEN && one.selector === selector && one.top === true);
  });
  const unwatched = Uint8Array.from(columns.watchLists, (list) => Number(list !== undefined && !list.includes(selector)));
  const bit = 1 << (elements.push({ kind, means }) - 1);
  return (now) => {
    if (now.met & bit) return YES;
    return unwatched[now.watched] ? UNKNOWN : NO;
  };
}
