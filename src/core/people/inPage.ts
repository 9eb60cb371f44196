import type { PageLeaf } from '../release/release';
import type { Expr } from '../rules/expr';
import { evaluateExpr, leavesOf } from '../rules/expr';
import type { Truth } from '../rules/truth';
import { adBlockerHolds, cookieHolds, languageHolds } from './kinds/browser';
import { calendarHolds, calendarWakesAt } from './kinds/calendar';
import type { Subject } from './subject';
import type { Visitor } from '../history/visitor';
import { unreachable } from '../unreachable';

/** What the browser knows of its visitor. */
export type Browser = Pick<Visitor, 'cookies' | 'language' | 'adBlocker' | 'zone'>;

/** The page's half of the people family. `facts` are the collector's answers; before they came, all are unknown. */
export function peopleHoldInPage(
  people: Expr<PageLeaf> | undefined,
  { facts, browser, now }: { facts: readonly Truth[]; browser: Browser; now: number },
): Truth {
  if (people === undefined) return true;
  const subject: Subject = {
    visitor: { visits: [], known: false, traits: {}, tags: [], responses: [], ...browser },
    now,
    lookback: 1,
    sets: {},
    segments: {},
  };
  return evaluateExpr(people, (leaf): Truth => {
    switch (leaf.kind) {
      case 'fact':
        return facts[leaf.index] ?? null;
      case 'cookie':
        return cookieHolds(leaf, subject);
      case 'language':
        return languageHolds(leaf, subject);
      case 'adBlocker':
        return adBlockerHolds(leaf, subject);
      case 'calendar':
        return calendarHolds(leaf, subject);
      default:
        return unreachable(leaf);
    }
  });
}

/** The next instant after `now` at which a calendar could change the answer; Infinity without one. */
export function peopleWakeAt(people: Expr<PageLeaf> | undefined, now: number): number {
  return Math.min(Infinity, ...leavesOf(people).map(({ leaf }) => (leaf.kind === 'calendar' ? calendarWakesAt(leaf, now) : Infinity)));
}
