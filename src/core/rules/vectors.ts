// Runs cases in the format of vectors/README.md. Used by the tests and by `./crindle evaluate`.
import type { Visitor } from '../history/visitor';
import type { Moment } from '../moments/moment';
import type { Before, Signal } from '../moments/signal';
import type { Budget } from '../pacing/pacing';
import { emptyPacing } from '../pacing/pacing';
import type { Candidate } from '../pacing/decider';
import type { Placement } from '../pacing/placement';
import type { Closes, Showing } from '../pacing/replay';
import { measureView, replayView } from '../pacing/replay';
import type { Page } from '../pages/address';
import type { Pages } from '../pages/pages';
import { pagesHold } from '../pages/pages';
import type { PageSets } from '../pages/pattern';
import type { PeopleCondition } from '../people/condition';
import { peopleHold } from '../people/condition';
import type { SegmentBody } from '../people/subject';
import type { Expr } from '../logic/expr';
import type { Rule } from './schema';
import type { Truth } from '../logic/truth';

export interface Shared {
  readonly sets: PageSets;
  readonly segments: Readonly<Record<string, SegmentBody>>;
}

export interface PeopleCase {
  readonly people: Expr<PeopleCondition>;
  readonly lookback?: number;
  readonly now: number;
  readonly staffed?: boolean;
  readonly visitor: Visitor;
}

export function answerPages({ page, pages }: { page: Page; pages: Pages }, { sets }: Shared): Truth {
  return pagesHold(pages, page, sets);
}

export function answerPeople({ people, lookback = 540, now, staffed, visitor }: PeopleCase, shared: Shared): Truth {
  return peopleHold(people, { visitor, now, lookback, staffed, ...shared });
}

export interface MomentCase {
  readonly moment: Expr<Moment>;
  readonly view: { readonly signals: readonly Signal[]; readonly leave: number; readonly before?: Before };
}

export function answerMoment({ moment, view }: MomentCase): number | null {
  const candidate: Candidate = { id: 'only', place: 'overlay', moment, pacing: { again: 'always' }, fits: () => true };
  const shows = replayView({ at: 0, before: {}, ...view }, { candidates: [candidate], record: emptyPacing(0) });
  return shows[0]?.at ?? null;
}

export interface PacingCase {
  readonly campaigns: readonly { readonly id: string; readonly place: Placement; readonly rule: Rule; readonly closes?: Closes }[];
  readonly budget?: Budget;
  readonly visits: readonly { readonly views: readonly { at: number; url: string; signals: Signal[]; leave: number; before?: Before }[] }[];
}

export function answerPacing({ campaigns, budget, visits }: PacingCase, { sets }: Shared): Showing[] {
  const record = emptyPacing(0);
  const closes = Object.fromEntries(campaigns.map(({ id, closes: closing }) => [id, closing]));
  const showings: Showing[] = [];
  for (const visit of visits) {
    const startedAt = visit.views[0]?.at ?? 0;
    record.visit = { startedAt, showings: 0, campaigns: [] };
    let visitEngaged = 0;
    let visitClicks = 0;
    for (const view of visit.views) {
      const page = { url: view.url };
      const candidates = campaigns.map(({ id, place, rule }): Candidate => {
        const fits = pagesHold(rule.pages, page, sets);
        return { id, place, moment: rule.moment, pacing: rule.pacing ?? {}, fits: () => fits };
      });
      const before = { ...view.before, visitElapsed: view.at - startedAt, visitEngaged, visitClicks };
      const played = { at: view.at, signals: view.signals, leave: view.leave, before };
      showings.push(...replayView(played, { candidates, record, budget, closes }));
      const measured = measureView(played);
      visitEngaged += measured.engagedMs;
      visitClicks += measured.clicks;
    }
  }
  return showings;
}
