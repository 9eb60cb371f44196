import type { Moment } from '../moments/moment';
import { momentHolds, momentWakesAt, namesSignal } from '../moments/runtime';
import type { Signal } from '../moments/signal';
import type { Timeline } from '../moments/timeline';
import { advanceTo, takeSignal } from '../moments/timeline';
import type { Expr } from '../logic/expr';
import type { Truth } from '../logic/truth';
import type { Budget, Pacing, PacingRecord } from './pacing';
import type { Placement } from './placement';
import { blockedUntil, budgetBlockedUntil, noteShowing } from './pacing';

export interface Candidate {
  readonly id: string;
  readonly place: Placement;
  readonly moment: Expr<Moment> | undefined;
  readonly pacing: Pacing;
  /** People and pages together, at an instant in UTC ms. */
  readonly fits: (now: number) => Truth;
  /** The next instant after `now` (UTC ms) at which `fits` could change by a clock alone. */
  readonly fitsWakesAt?: ((now: number) => number) | undefined;
}

export interface Decider {
  /** Counts a signal in and says which campaigns show at its instant. */
  readonly signal: (signal: Signal) => readonly string[];
  /** Says which campaigns show at `t` ms, no signal having come. */
  readonly wake: (t: number) => readonly string[];
  /** The next instant (ms since the page opened) at which to call `wake`; Infinity for never. */
  readonly wakesAt: () => number;
  /** A message of a campaign holds a place from now on, whether paced or opened by the visitor, instead of the one it held. */
  readonly hold: (campaign: string, place?: Placement) => void;
  readonly free: (campaign: string) => void;
}

/**
 * Decides in one page view which campaigns show when: the earliest instant at which people, pages, moment and pacing all
 * hold, in the site's order, one per campaign and page view except with pacing `each`. Writes showings to `record`.
 */
export function createDecider({
  candidates,
  line,
  openedAt,
  record,
  budget,
  unknownShows = false,
  shownHere = new Set(),
}: {
  candidates: readonly Candidate[];
  line: Timeline;
  openedAt: number;
  record: PacingRecord;
  budget?: Budget | undefined;
  /** A rehearsal's other scenario: what is unknown shows. */
  unknownShows?: boolean | undefined;
  /** What showed in this page view already, under a release before this one; showings are added. */
  shownHere?: Set<string> | undefined;
}): Decider {
  const holding = new Map<string, Placement>();
  const placeOf = new Map(candidates.map(({ id, place }) => [id, place]));
  // `visible` conditions count from the opening of the page, not from the first time someone asks.
  for (const { moment } of candidates) momentWakesAt(moment, line, 0);

  const holds = (value: Truth): boolean => (unknownShows ? value !== false : value === true);
  const isFree = (place: Placement): boolean => place === 'none' || ![...holding.values()].includes(place);

  function mayStart({ id, moment, pacing, place, fits }: Candidate, t: number): boolean {
    if (shownHere.has(id) && !(pacing.again === 'each' && line.signal !== undefined && namesSignal(moment, line.signal, openedAt + t)))
      return false;
    const now = openedAt + t;
    return (
      isFree(place) &&
      blockedUntil(pacing, id, record) <= now &&
      budgetBlockedUntil(budget, record) <= now &&
      holds(momentHolds(moment, line, t, openedAt)) &&
      holds(fits(now))
    );
  }

  function check(t: number): readonly string[] {
    if (!line.visible) return [];
    const starting = candidates.find((candidate) => mayStart(candidate, t));
    if (!starting) return [];
    shownHere.add(starting.id);
    if (starting.place !== 'none') holding.set(starting.id, starting.place);
    noteShowing(record, starting.id, openedAt + t);
    return [starting.id];
  }

  function wakesAt(): number {
    const now = openedAt + line.t;
    let next = budgetBlockedUntil(budget, record) - openedAt;
    if (next <= line.t) next = Infinity;
    for (const { id, moment, pacing, fitsWakesAt } of candidates) {
      if (shownHere.has(id)) continue;
      const paced = blockedUntil(pacing, id, record);
      next = Math.min(next, momentWakesAt(moment, line, line.t), paced > now ? paced - openedAt : Infinity);
      if (fitsWakesAt) next = Math.min(next, fitsWakesAt(now) - openedAt);
    }
    return next;
  }

  return {
    signal: (signal) => {
      takeSignal(line, signal);
      return check(line.t);
    },
    wake: (t) => {
      advanceTo(line, Math.max(t, line.t));
      return check(line.t);
    },
    wakesAt,
    hold: (campaign, place = placeOf.get(campaign) ?? 'overlay') => void holding.set(campaign, place),
    free: (campaign) => void holding.delete(campaign),
  };
}
