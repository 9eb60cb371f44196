// The page's half of the people family. It takes the evaluation of each kind by itself, so that nothing else of the kinds is
// loaded into other people's pages.
import type { PageFacts } from '../facts/facts';
import type { Expr } from '../logic/expr';
import { evaluateExpr, leavesOf } from '../logic/expr';
import type { Truth } from '../logic/truth';
import type { PageCondition } from './condition';
import { adBlockerHolds } from './kinds/adBlocker';
import { calendarHolds, calendarWakesAt } from './kinds/calendar';
import { cookieHolds } from './kinds/cookie';
import { languageHolds } from './kinds/language';
import type { Subject } from './subject';

/** A people condition that the page cannot judge: the collector's answer to the page open holds its value at this index. */
export interface FactRef {
  readonly kind: 'fact';
  readonly index: number;
}
export type PageLeaf = FactRef | PageCondition;

const HOLDS = {
  cookie: cookieHolds,
  language: languageHolds,
  adBlocker: adBlockerHolds,
  calendar: calendarHolds,
} satisfies { readonly [K in PageCondition['kind']]: (condition: Extract<PageCondition, { kind: K }>, subject: Subject) => Truth };

/** The page's half of the people family. `facts` are the collector's answers; before they came, all are unknown. */
export function peopleHoldInPage(
  people: Expr<PageLeaf> | undefined,
  { facts, browser, now }: { facts: readonly Truth[]; browser: PageFacts; now: number },
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
    if (leaf.kind === 'fact') return facts[leaf.index] ?? null;
    return (HOLDS[leaf.kind] as (condition: PageCondition, subject: Subject) => Truth)(leaf, subject);
  });
}

/** The next instant after `now` at which a calendar could change the answer; Infinity without one. */
export function peopleWakeAt(people: Expr<PageLeaf> | undefined, now: number): number {
  return Math.min(Infinity, ...leavesOf(people).map(({ leaf }) => (leaf.kind === 'calendar' ? calendarWakesAt(leaf, now) : Infinity)));
}
