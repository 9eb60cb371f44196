import type { Moment } from '../moments/moment';
import type { Expr } from '../logic/expr';
import { asGroup } from '../logic/expr';
import type { Columns } from './columns';
import { SIGNAL_KINDS } from './columns';

/** A view with what came before it in its visit, in ms. */
export interface ViewOf {
  readonly columns: Columns;
  view: number;
  visitElapsed: number;
  visitEngaged: number;
  visitClicks: number;
}

type Test = (at: ViewOf) => boolean;

const bit = (kind: (typeof SIGNAL_KINDS)[number]): number => 1 << SIGNAL_KINDS.indexOf(kind);
const has = (kind: (typeof SIGNAL_KINDS)[number]): Test => {
  const mask = bit(kind);
  return ({ columns, view }) => ((columns.kinds[view] as number) & mask) !== 0;
};
/** An element nobody watched may have been seen for all we know. */
const unwatched =
  (selector: string): Test =>
  ({ columns, view }) => {
    const list = columns.watchLists[columns.watched[view] as number];
    return list !== undefined && !list.includes(selector);
  };
const either =
  (a: Test, b: Test): Test =>
  (at) =>
    a(at) || b(at);

/**
 * Compiles a moment into a quick look at a view's summary: false only if the moment cannot be true, or unknown, at any
 * instant of it. What passes is replayed exactly.
 */
export function compileMayFire(moment: Expr<Moment> | undefined): Test {
  if (moment === undefined) return () => true;
  const group = asGroup(moment);
  if (!group) return leafMayHold(moment as Moment);
  const parts = group.parts.map(compileMayFire);
  if (group.join === 'all') return (at) => parts.every((part) => part(at));
  return group.join === 'any' ? (at) => parts.some((part) => part(at)) : () => true;
}

/** Of each kind, whether a view's summary leaves it open. */
const MAY_HOLD: { readonly [K in Moment['kind']]: (moment: Extract<Moment, { kind: K }>) => Test } = {
  open: () => () => true,
  delay: ({ seconds, of, counting }) => {
    const target = Math.round(seconds * 1000);
    const ofVisit = of === 'visit' ? 1 : 0;
    if (counting === 'engaged')
      return ({ columns, view, visitEngaged }) => (columns.engagedMs[view] as number) + 1 + ofVisit * visitEngaged >= target;
    return ({ columns, view, visitElapsed }) => (columns.leave[view] as number) + ofVisit * visitElapsed >= target;
  },
  scroll:
    ({ atLeast }) =>
    ({ columns, view }) =>
      (columns.depth[view] as number) + 1 > atLeast,
  scrollStart: () => has('scroll'),
  reach: ({ selector }) => either(has('seen'), unwatched(selector)),
  visible: ({ selector }) => either(has('seen'), unwatched(selector)),
  click: ({ selector }) => either(has('click'), unwatched(selector)),
  clicks:
    ({ atLeast, of }) =>
    ({ columns, view, visitClicks }) =>
      (columns.clicks[view] as number) + (of === 'visit' ? visitClicks : 0) >= atLeast,
  event: () => has('event'),
  idle: ({ seconds }) => {
    const target = Math.round(seconds * 1000);
    return ({ columns, view }) => (columns.leave[view] as number) >= target;
  },
  exit: () => has('exit'),
};

const leafMayHold = (moment: Moment): Test => (MAY_HOLD[moment.kind] as (moment: Moment) => Test)(moment);
