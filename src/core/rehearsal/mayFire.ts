import type { Moment } from '../moments/moment';
import type { Expr } from '../rules/expr';
import { asGroup } from '../rules/expr';
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

function leafMayHold(moment: Moment): Test {
  switch (moment.kind) {
    case 'open':
      return () => true;
    case 'delay': {
      const target = Math.round(moment.seconds * 1000);
      const ofVisit = moment.of === 'visit' ? 1 : 0;
      if (moment.counting === 'engaged')
        return ({ columns, view, visitEngaged }) => (columns.engagedMs[view] as number) + 1 + ofVisit * visitEngaged >= target;
      return ({ columns, view, visitElapsed }) => (columns.leave[view] as number) + ofVisit * visitElapsed >= target;
    }
    case 'scroll':
      return ({ columns, view }) => (columns.depth[view] as number) + 1 > moment.atLeast;
    case 'scrollStart':
      return has('scroll');
    case 'reach':
    case 'visible':
      return either(has('seen'), unwatched(moment.selector));
    case 'click':
      return either(has('click'), unwatched(moment.selector));
    case 'clicks':
      return ({ columns, view, visitClicks }) =>
        (columns.clicks[view] as number) + (moment.of === 'visit' ? visitClicks : 0) >= moment.atLeast;
    case 'event':
      return has('event');
    case 'idle': {
      const target = Math.round(moment.seconds * 1000);
      return ({ columns, view }) => (columns.leave[view] as number) >= target;
    }
    case 'exit':
      return has('exit');
  }
}
