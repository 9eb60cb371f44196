import { z } from 'zod';
import { evaluateExpr, leavesOf } from '../rules/expr';
import type { Expr } from '../rules/expr';
import type { Truth } from '../rules/truth';
import { unreachable } from '../unreachable';
import { clicksHolds, clicksSchema, clicksWords } from './kinds/clicks';
import { delayHolds, delaySchema, delayWakesAt, delayWords } from './kinds/delay';
import {
  clickHolds,
  clickSchema,
  clickWords,
  reachHolds,
  reachSchema,
  reachWords,
  visibleHolds,
  visibleSchema,
  visibleWakesAt,
  visibleWords,
} from './kinds/element';
import { eventHolds, eventSchema, eventWords } from './kinds/event';
import { exitHolds, exitSchema, exitWords } from './kinds/exit';
import { idleHolds, idleSchema, idleWakesAt, idleWords } from './kinds/idle';
import { openSchema, openWords } from './kinds/open';
import { scrollHolds, scrollSchema, scrollStartHolds, scrollStartSchema, scrollStartWords, scrollWords } from './kinds/scroll';
import type { Timeline } from './timeline';

export const momentSchema = () =>
  z.discriminatedUnion('kind', [
    openSchema(),
    delaySchema(),
    scrollSchema(),
    scrollStartSchema(),
    reachSchema(),
    visibleSchema(),
    clickSchema(),
    clicksSchema(),
    eventSchema(),
    idleSchema(),
    exitSchema(),
  ]);
export type Moment = z.infer<ReturnType<typeof momentSchema>>;

/** `t` is ms since the page opened and not before the timeline's own; `openedAt` is the opening in UTC ms. */
export function momentHolds(moment: Expr<Moment> | undefined, line: Timeline, t: number, openedAt = 0): Truth {
  return moment === undefined ? true : evaluateExpr(moment, (leaf) => leafHolds(leaf, line, t, openedAt));
}

export function leafHolds(moment: Moment, line: Timeline, t: number, openedAt: number): Truth {
  switch (moment.kind) {
    case 'open':
      return true;
    case 'delay':
      return delayHolds(moment, line, t);
    case 'scroll':
      return scrollHolds(moment, line);
    case 'scrollStart':
      return scrollStartHolds(moment, line);
    case 'reach':
      return reachHolds(moment, line);
    case 'visible':
      return visibleHolds(moment, line, t);
    case 'click':
      return clickHolds(moment, line);
    case 'clicks':
      return clicksHolds(moment, line);
    case 'event':
      return eventHolds(moment, line, openedAt + t);
    case 'idle':
      return idleHolds(moment, line, t);
    case 'exit':
      return exitHolds(moment, line);
    default:
      return unreachable(moment);
  }
}

/** The next instant after `t` at which a clock could turn the moment true if no signal comes; Infinity if none. */
export function momentWakesAt(moment: Expr<Moment> | undefined, line: Timeline, t: number): number {
  if (moment === undefined) return Infinity;
  let next = Infinity;
  for (const leaf of clocksOf(moment)) next = Math.min(next, leafWakesAt(leaf, line, t));
  return next;
}

const clocks = new WeakMap<Expr<Moment>, readonly Moment[]>();

/** The leaves that a clock can turn true, looked up once for a moment: this is asked at every signal. */
function clocksOf(moment: Expr<Moment>): readonly Moment[] {
  let found = clocks.get(moment);
  if (!found) {
    found = leavesOf(moment).flatMap(({ leaf }) =>
      leaf.kind === 'delay' || leaf.kind === 'idle' || leaf.kind === 'visible' ? [leaf] : [],
    );
    clocks.set(moment, found);
  }
  return found;
}

function leafWakesAt(moment: Moment, line: Timeline, t: number): number {
  switch (moment.kind) {
    case 'delay':
      return delayWakesAt(moment, line, t);
    case 'idle':
      return idleWakesAt(moment, line, t);
    case 'visible':
      return visibleWakesAt(moment, line, t);
    default:
      return Infinity;
  }
}

export function momentWords(moment: Moment): string {
  switch (moment.kind) {
    case 'open':
      return openWords();
    case 'delay':
      return delayWords(moment);
    case 'scroll':
      return scrollWords(moment);
    case 'scrollStart':
      return scrollStartWords();
    case 'reach':
      return reachWords(moment);
    case 'visible':
      return visibleWords(moment);
    case 'click':
      return clickWords(moment);
    case 'clicks':
      return clicksWords(moment);
    case 'event':
      return eventWords(moment);
    case 'idle':
      return idleWords(moment);
    case 'exit':
      return exitWords();
    default:
      return unreachable(moment);
  }
}
