// How moments are judged, and nothing else of them: this is what the page carries.
import type { Expr } from '../logic/expr';
import { evaluateExpr, leavesOf } from '../logic/expr';
import type { Truth } from '../logic/truth';
import type { MomentRuntime } from './kind';
import { clickRuntime } from './kinds/click';
import { clicksRuntime } from './kinds/clicks';
import { delayRuntime } from './kinds/delay';
import { eventRuntime } from './kinds/event';
import { exitRuntime } from './kinds/exit';
import { idleRuntime } from './kinds/idle';
import { openRuntime } from './kinds/open';
import { reachRuntime } from './kinds/reach';
import { scrollRuntime } from './kinds/scroll';
import { scrollStartRuntime } from './kinds/scrollStart';
import { visibleRuntime } from './kinds/visible';
import type { Moment } from './moment';
import type { Signal } from './signal';
import type { Timeline } from './timeline';

const RUNTIME: { readonly [K in Moment['kind']]: MomentRuntime<Extract<Moment, { kind: K }>> } = {
  open: openRuntime,
  delay: delayRuntime,
  scroll: scrollRuntime,
  scrollStart: scrollStartRuntime,
  reach: reachRuntime,
  visible: visibleRuntime,
  click: clickRuntime,
  clicks: clicksRuntime,
  event: eventRuntime,
  idle: idleRuntime,
  exit: exitRuntime,
};

const runtimeOf = (moment: Moment): MomentRuntime<Moment> => RUNTIME[moment.kind] as MomentRuntime<Moment>;

/** `t` is ms since the page opened and not before the timeline's own; `openedAt` is the opening in UTC ms. */
export function momentHolds(moment: Expr<Moment> | undefined, line: Timeline, t: number, openedAt = 0): Truth {
  return moment === undefined ? true : evaluateExpr(moment, (leaf) => leafHolds(leaf, line, t, openedAt));
}

export const leafHolds = (moment: Moment, line: Timeline, t: number, openedAt: number): Truth =>
  runtimeOf(moment).holds(moment, line, t, openedAt);

/** The next instant after `t` at which a clock could turn the moment true if no signal comes; Infinity if none. */
export function momentWakesAt(moment: Expr<Moment> | undefined, line: Timeline, t: number): number {
  if (moment === undefined) return Infinity;
  let next = Infinity;
  for (const leaf of clocksOf(moment)) next = Math.min(next, runtimeOf(leaf).wakesAt?.(leaf, line, t) ?? Infinity);
  return next;
}

const clocks = new WeakMap<Expr<Moment>, readonly Moment[]>();

/** The leaves that a clock can turn true, looked up once for a moment: this is asked at every signal. */
function clocksOf(moment: Expr<Moment>): readonly Moment[] {
  let found = clocks.get(moment);
  if (!found) clocks.set(moment, (found = leavesOf(moment).flatMap(({ leaf }) => (runtimeOf(leaf).wakesAt ? [leaf] : []))));
  return found;
}

/** Does a leaf of the moment name this very signal? `now` is UTC ms. */
export const namesSignal = (moment: Expr<Moment> | undefined, signal: Signal, now: number): boolean =>
  leavesOf(moment).some(({ leaf }) => runtimeOf(leaf).names?.(leaf, signal, now));
