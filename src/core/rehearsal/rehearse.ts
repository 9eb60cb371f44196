import { pagesHold } from '../pages/pages';
import type { Candidate } from '../pacing/decider';
import type { Placement } from '../pacing/placement';
import type { Budget, PacingRecord } from '../pacing/pacing';
import { blockedUntil, budgetBlockedUntil, emptyPacing, noteShowing } from '../pacing/pacing';
import { replayView } from '../pacing/replay';
import type { PageSets } from '../pages/pattern';
import type { Rule } from '../rules/schema';
import type { Truth } from '../logic/truth';
import { and } from '../logic/truth';
import type { Columns } from './columns';
import { signalsOf } from './columns';
import type { Firing } from './firing';
import { compileFiring } from './firing';
import type { Judge } from './judge';
import type { ViewOf } from './mayFire';
import { compileMayFire } from './mayFire';
import { NO, UNKNOWN, YES } from '../logic/truth';

export interface CampaignToRehearse {
  readonly id: string;
  readonly place: Placement;
  readonly rule: Rule;
}

export interface RehearsedShowing {
  readonly campaign: string;
  /** Column indices. */
  readonly visit: number;
  readonly view: number;
  /** UTC ms. */
  readonly at: number;
}

export interface RehearsalInput {
  readonly columns: Columns;
  readonly judge: Judge;
  /** In the site's order. */
  readonly campaigns: readonly CampaignToRehearse[];
  readonly budget?: Budget | undefined;
  readonly sets: PageSets;
  /** What an unknown rule does: stay silent (the sure showings), or show (with these, the possible ones). */
  readonly unknownShows?: boolean;
  /** What a visitor, by place in the columns, brings along; `until` takes in what they answered by an instant (UTC ms). Without it nobody has met anything. */
  readonly pacing?: ((visitor: number) => { readonly record: PacingRecord; readonly until: (at: number) => void }) | undefined;
}

/**
 * Plays the campaigns over all recorded visits, visitor by visitor in time order. A view that no campaign can fire in is
 * passed over by its summary; all others go through the page script's own decider. Messages stay open until the page is
 * left, and nobody answers them: a rehearsal assumes that visitors would have done what they did.
 */
export function rehearse(input: RehearsalInput): RehearsedShowing[] {
  const showings: RehearsedShowing[] = [];
  for (const _pause of rehearseInSteps(input, (showing) => showings.push(showing)));
  return showings;
}

/** How many page views are looked at between two pauses: some ten milliseconds. */
const VIEWS_A_STEP = 40_000;

/**
 * The same with pauses, in which whoever has a thread for it may see whether the answer is still wanted. Each showing is given to `take`, in
 * their order: there may be millions of them, of which most are only counted.
 */
export function* rehearseInSteps(
  { columns, judge, campaigns, budget, sets, unknownShows = false, pacing }: RehearsalInput,
  take: (showing: RehearsedShowing) => void,
): Generator<undefined, void> {
  const compiled = campaigns.map((campaign) => compile(campaign, columns, sets));
  // Most views are passed over, so that what passes them over decides how long all takes.
  const pageMatters = Uint8Array.from(columns.pages, (_page, page) => Number(compiled.some(({ pageHolds }) => pageHolds[page] !== NO)));
  const { firstView, firstVisit, viewAt, page, engagedBefore, clicksBefore } = columns;
  const at: ViewOf = { columns, view: 0, visitElapsed: 0, visitEngaged: 0, visitClicks: 0 };
  let pauseAt = VIEWS_A_STEP;
  for (let visitor = 0; visitor < columns.visitor.length; visitor++) {
    const [begin, end] = [firstVisit[visitor] as number, firstVisit[visitor + 1] as number];
    if ((firstView[begin] as number) * campaigns.length > pauseAt) {
      pauseAt += VIEWS_A_STEP;
      yield undefined;
    }
    let record: PacingRecord | undefined;
    let brought: ReturnType<NonNullable<RehearsalInput['pacing']>> | undefined;
    for (let visit = begin; visit < end; visit++) {
      const [first, last] = [firstView[visit] as number, (firstView[visit + 1] as number) - 1];
      let isNewVisit = true;
      for (let view = first; view <= last; view++) {
        if (!pageMatters[page[view] as number]) continue;
        at.view = view;
        at.visitElapsed = (viewAt[view] as number) - (viewAt[first] as number);
        at.visitEngaged = engagedBefore[view] as number;
        at.visitClicks = clicksBefore[view] as number;
        if (!mayAnyFire(compiled, at)) continue;
        brought ??= pacing?.(visitor);
        record ??= brought?.record ?? emptyPacing(0);
        brought?.until(viewAt[view] as number);
        if (isNewVisit) record.visit = { startedAt: viewAt[first] as number, showings: 0, campaigns: [] };
        isNewVisit = false;
        playView({ visit, at, record, compiled, judge, budget, unknownShows }, take);
      }
    }
  }
}

function mayAnyFire(compiled: readonly Compiled[], at: ViewOf): boolean {
  const page = at.columns.page[at.view] as number;
  for (const { pageHolds, mayFire } of compiled) if (pageHolds[page] !== NO && mayFire(at)) return true;
  return false;
}

interface Compiled {
  readonly campaign: CampaignToRehearse;
  readonly mayFire: (at: ViewOf) => boolean;
  /** By page index: 0 no, 1 yes, 2 unknown. */
  readonly pageHolds: Uint8Array;
  readonly firing: Firing | undefined;
}

function compile(campaign: CampaignToRehearse, columns: Columns, sets: PageSets): Compiled {
  const { rule } = campaign;
  const pageHolds = Uint8Array.from(columns.pages, (page) => {
    const holds = pagesHold(rule.pages, page, sets);
    return holds === null ? UNKNOWN : holds ? YES : NO;
  });
  // Whatever is asked for again and again in one view is the decider's.
  const firing = rule.pacing?.again === 'each' ? undefined : compileFiring(rule.moment, columns);
  return { campaign, mayFire: compileMayFire(rule.moment), pageHolds, firing };
}

interface Play {
  readonly visit: number;
  readonly at: ViewOf;
  readonly record: PacingRecord;
  readonly compiled: readonly Compiled[];
  readonly judge: Judge;
  readonly budget: Budget | undefined;
  readonly unknownShows: boolean;
}

function playView({ visit, at, record, compiled, judge, budget, unknownShows }: Play, take: (showing: RehearsedShowing) => void): void {
  const { columns, view } = at;
  const openedAt = columns.viewAt[view] as number;
  const lastInstant = openedAt + (columns.leave[view] as number);
  if (budgetBlockedUntil(budget, record) > lastInstant) return;
  const candidates: Candidate[] = [];
  let only: { campaign: CampaignToRehearse; firing: Firing; from: number } | undefined;
  for (const { campaign, mayFire, pageHolds, firing } of compiled) {
    const page = pageHolds[columns.page[view] as number] as number;
    const pacing = campaign.rule.pacing ?? {};
    if (page === NO || blockedUntil(pacing, campaign.id, record) > lastInstant || !mayFire(at)) continue;
    const onPage: Truth = page === UNKNOWN ? null : true;
    // Most people conditions say the same throughout a page view, and most say no: then there is nothing to play.
    const steady = judge.steadily(campaign.rule.people, { visit, view, now: openedAt }, lastInstant);
    if (steady === false || (steady === null && !unknownShows)) continue;
    const known = steady === undefined ? undefined : and([onPage, steady]);
    if (known === null && !unknownShows) continue;
    const isOnly = candidates.length === 0 && firing && known !== undefined;
    only = isOnly ? { campaign, firing, from: blockedUntil(pacing, campaign.id, record) } : undefined;
    const fits = (now: number): Truth =>
      known ?? (steady === undefined ? and([onPage, judge.holds(campaign.rule.people, { visit, view, now })]) : null);
    candidates.push({
      id: campaign.id,
      place: campaign.place,
      moment: campaign.rule.moment,
      pacing,
      fits,
      ...(steady === undefined ? { fitsWakesAt: (now: number) => judge.wakesAt(campaign.rule.people, { visit, view, now }) } : {}),
    });
  }
  if (candidates.length === 0) return;
  if (only && candidates.length === 1) {
    const t = only.firing(at, Math.max(only.from, budgetBlockedUntil(budget, record)) - openedAt, unknownShows);
    if (t === undefined) return;
    noteShowing(record, only.campaign.id, openedAt + t);
    take({ campaign: only.campaign.id, visit, view, at: openedAt + t });
    return;
  }
  const flags = columns.flags[view] as number;
  const before = {
    hidden: (flags & 1) !== 0,
    cannotScroll: (flags & 2) !== 0,
    visitElapsed: at.visitElapsed,
    visitEngaged: at.visitEngaged,
    visitClicks: at.visitClicks,
    watched: columns.watchLists[columns.watched[view] as number],
  };
  const played = replayView(
    { at: openedAt, signals: signalsOf(columns, view), leave: columns.leave[view] as number, before },
    { candidates, record, budget, unknownShows },
  );
  for (const { campaign, at: shownAt } of played) take({ campaign, visit, view, at: shownAt });
}
