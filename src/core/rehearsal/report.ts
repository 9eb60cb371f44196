import type { Path } from '../rules/expr';
import type { WordsFor } from '../rules/words';
import type { Columns } from './columns';
import type { CampaignToRehearse, RehearsalInput, RehearsedShowing } from './rehearse';
import { rehearse } from './rehearse';
import { steps, withoutEach } from './variants';

export interface RehearsalReport {
  /** Of the days rehearsed: everyone recorded, and their visits and page views. */
  readonly visitors: number;
  readonly visits: number;
  readonly views: number;
  /** Showings of the campaign where every fact needed was recorded, and with those where one was missing. */
  readonly sure: number;
  readonly possible: number;
  readonly showings: readonly RehearsedShowing[];
  /** Visits left after each condition, pacing last. */
  readonly steps: readonly { readonly what: string; readonly path: Path; readonly left: number }[];
  /** Showings there would be without one condition. */
  readonly without: readonly { readonly path: Path; readonly showings: number }[];
  /** Showings of each live campaign with and without this one. */
  readonly collisions: readonly { readonly campaign: string; readonly alone: number; readonly together: number }[];
  readonly distributions: Distributions;
}

export interface Distributions {
  /** Showings by whole seconds since the page opened, and before it was left. */
  readonly secondsOnPage: readonly number[];
  readonly secondsBeforeLeaving: readonly number[];
  readonly hours: readonly number[];
  readonly pages: readonly { readonly url: string; readonly showings: number }[];
}

/** Rehearses one campaign, alone or among the live ones, with what each of its conditions does. */
export function reportOn(
  campaign: CampaignToRehearse,
  {
    live = [],
    names,
    ...input
  }: Omit<RehearsalInput, 'campaigns' | 'unknownShows'> & { live?: readonly CampaignToRehearse[]; names?: WordsFor },
): RehearsalReport {
  const { columns } = input;
  // The campaign takes its own place in the site's order if it is live already, else the last.
  const among = (rule: CampaignToRehearse): CampaignToRehearse[] =>
    live.some(({ id }) => id === rule.id) ? live.map((one) => (one.id === rule.id ? rule : one)) : [...live, rule];
  const run = (campaigns: readonly CampaignToRehearse[], unknownShows = false) => rehearse({ ...input, campaigns, unknownShows });
  const own = (showings: readonly RehearsedShowing[]): RehearsedShowing[] => showings.filter(({ campaign: id }) => id === campaign.id);
  const together = run(among(campaign));
  const showings = own(together);
  const others = live.filter(({ id }) => id !== campaign.id);
  const apart = others.length ? run(others) : [];
  const count = (all: readonly RehearsedShowing[], id: string): number => all.filter((one) => one.campaign === id).length;
  return {
    visitors: columns.visitor.length,
    visits: columns.visitAt.length,
    views: columns.viewAt.length,
    sure: showings.length,
    possible: own(run(among(campaign), true)).length,
    showings,
    steps: steps(campaign.rule, names).map(({ what, path, rule }) => ({
      what,
      path,
      left: path.length === 0 ? columns.visitAt.length : visitsIn(run([{ ...campaign, rule }])),
    })),
    without: withoutEach(campaign.rule).map(({ path, rule }) => ({ path, showings: own(run(among({ ...campaign, rule }))).length })),
    collisions: others.map(({ id }) => ({ campaign: id, alone: count(apart, id), together: count(together, id) })),
    distributions: distribute(columns, showings),
  };
}

const visitsIn = (showings: readonly RehearsedShowing[]): number => new Set(showings.map(({ visit }) => visit)).size;

function distribute(columns: Columns, showings: readonly RehearsedShowing[]): Distributions {
  const pages = new Map<number, number>();
  const hours = new Array<number>(24).fill(0);
  const onPage: number[] = [];
  const beforeLeaving: number[] = [];
  for (const { view, at } of showings) {
    const t = at - (columns.viewAt[view] as number);
    onPage.push(Math.floor(t / 1000));
    beforeLeaving.push(Math.floor(((columns.leave[view] as number) - t) / 1000));
    const hour = new Date(at).getUTCHours();
    hours[hour] = (hours[hour] ?? 0) + 1;
    const page = columns.page[view] as number;
    pages.set(page, (pages.get(page) ?? 0) + 1);
  }
  return {
    secondsOnPage: onPage.sort((a, b) => a - b),
    secondsBeforeLeaving: beforeLeaving.sort((a, b) => a - b),
    hours,
    pages: [...pages].sort((a, b) => b[1] - a[1]).map(([page, shown]) => ({ url: columns.pages[page]?.url ?? '', showings: shown })),
  };
}
