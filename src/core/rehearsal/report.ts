import type { Path } from '../logic/expr';
import type { WordsFor } from '../pages/names';
import type { Columns } from './columns';
import type { CampaignToRehearse, RehearsalInput, RehearsedShowing } from './rehearse';
import { Newest } from './rehearsed';
import { rehearseInSteps } from './rehearse';
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
  readonly steps: readonly RehearsedStep[];
  /** Showings there would be without one condition. */
  readonly without: readonly { readonly path: Path; readonly showings: number }[];
  /** Showings of each live campaign with and without this one. */
  readonly collisions: readonly { readonly campaign: string; readonly alone: number; readonly together: number }[];
  readonly distributions: Distributions;
  /** Views in which it just missed: it would have shown without the condition at `path`. */
  readonly nearMisses: readonly { readonly visit: number; readonly view: number; readonly at: number; readonly path: Path }[];
}

export interface RehearsedStep {
  readonly what: string;
  readonly path: Path;
  readonly left: number;
  /** Where, after this condition, it would show; and where it would have shown before it, in visits that this condition takes. Some, the newest. */
  readonly stay: readonly Instant[];
  readonly go: readonly Instant[];
}

type Instant = Pick<RehearsedShowing, 'visit' | 'at'>;

const MOST_NEAR_MISSES = 200;
const MOST_OF_A_STEP = 30;

export interface Distributions {
  /** Showings by whole seconds since the page opened, and before it was left. */
  readonly secondsOnPage: readonly number[];
  readonly secondsBeforeLeaving: readonly number[];
  /** By hour of the day, UTC. */
  readonly hours: readonly number[];
  readonly devices: Readonly<Record<string, number>>;
  readonly channels: Readonly<Record<string, number>>;
  readonly towns: Readonly<Record<string, number>>;
  readonly pages: readonly { readonly url: string; readonly showings: number }[];
}

type ReportInput = Omit<RehearsalInput, 'campaigns' | 'unknownShows'> & {
  live?: readonly CampaignToRehearse[];
  names?: WordsFor;
};

/** Rehearses one campaign, alone or among the live ones, with what each of its conditions does. */
export function reportOn(campaign: CampaignToRehearse, input: ReportInput): RehearsalReport {
  let last: StagedReport | undefined;
  for (const stage of reportInStages(campaign, input)) last = stage ?? last;
  if (!last) throw new Error('A report has at least one stage');
  const { done: _done, runs: _runs, ...report } = last;
  return report;
}

/** A report on its way: what is not worked out yet is missing from its lists, `possible` is at first the sure number. */
export interface StagedReport extends RehearsalReport {
  readonly done: number;
  readonly runs: number;
}

/** The same run by run, the showings first: each stage knows more, undefined is a pause. Whoever has seen enough stops. */
export function* reportInStages(
  campaign: CampaignToRehearse,
  { live = [], names, ...input }: ReportInput,
): Generator<StagedReport | undefined> {
  const { columns } = input;
  // The campaign takes its own place in the site's order if it is live already, else the last.
  const among = (rule: CampaignToRehearse): CampaignToRehearse[] =>
    live.some(({ id }) => id === rule.id) ? live.map((one) => (one.id === rule.id ? rule : one)) : [...live, rule];
  const run = (campaigns: readonly CampaignToRehearse[], take: (showing: RehearsedShowing) => void, unknownShows = false) =>
    rehearseInSteps({ ...input, campaigns, unknownShows }, take);
  /** Of one of several rehearsed together. */
  const only =
    ({ id }: CampaignToRehearse, take: (showing: RehearsedShowing) => void) =>
    (showing: RehearsedShowing): void => {
      if (showing.campaign === id) take(showing);
    };
  const counted = function* (campaigns: readonly CampaignToRehearse[], take: (showing: RehearsedShowing) => void) {
    const counts = new Map<string, number>();
    yield* run(campaigns, (showing) => {
      counts.set(showing.campaign, (counts.get(showing.campaign) ?? 0) + 1);
      take(showing);
    });
    return (id: string): number => counts.get(id) ?? 0;
  };
  const others = live.filter(({ id }) => id !== campaign.id);
  const variants = withoutEach(campaign.rule);
  const grown = steps(campaign.rule, names);
  const showings: RehearsedShowing[] = [];
  const shownIn = new Uint8Array(columns.visitAt.length);
  const together = yield* counted(
    among(campaign),
    only(campaign, (showing) => {
      showings.push(showing);
      shownIn[showing.visit] = 1;
    }),
  );
  const without: { path: Path; showings: number }[] = [];
  const climbed: RehearsedStep[] = [];
  // A visit in which it showed has not missed; of several conditions that one view misses by, the first is named.
  const missed = new Map<number, RehearsalReport['nearMisses'][0]>();
  let possible = showings.length;
  let collisions: RehearsalReport['collisions'] = [];
  let done = 0;
  const distributions = distribute(columns, showings);
  const stage = (): StagedReport => ({
    visitors: columns.visitor.length,
    visits: columns.visitAt.length,
    views: columns.viewAt.length,
    sure: showings.length,
    possible,
    showings,
    steps: [...climbed],
    without: [...without],
    nearMisses: [...missed.values()],
    collisions,
    distributions,
    done: ++done,
    runs: 2 + variants.length + grown.length + (others.length ? 1 : 0),
  });
  yield stage();
  let mayShow = 0;
  yield* run(
    among(campaign),
    only(campaign, () => mayShow++),
    true,
  );
  possible = mayShow;
  yield stage();
  for (const { path, rule } of variants) {
    let would = 0;
    yield* run(
      among({ ...campaign, rule }),
      only(campaign, ({ visit, view, at }) => {
        would++;
        if (missed.size < MOST_NEAR_MISSES && !shownIn[visit] && !missed.has(view)) missed.set(view, { visit, view, at, path });
      }),
    );
    without.push({ path, showings: would });
    yield stage();
  }
  let before = { visit: [] as number[], at: [] as number[] };
  for (const { what, path, rule } of grown) {
    const left = { visit: [] as number[], at: [] as number[] };
    const isLeft = new Uint8Array(columns.visitAt.length);
    const [stay, go] = [new Newest<Instant>(MOST_OF_A_STEP), new Newest<Instant>(MOST_OF_A_STEP)];
    let visits = 0;
    yield* run([{ ...campaign, rule }], ({ visit, at }) => {
      left.visit.push(visit);
      left.at.push(at);
      stay.take({ visit, at });
      visits += 1 - (isLeft[visit] as number);
      isLeft[visit] = 1;
    });
    before.visit.forEach((visit, nth) => isLeft[visit] || go.take({ visit, at: before.at[nth] as number }));
    // Everything is left of all visits, also those that no message could have shown in.
    climbed.push({ what, path, left: path.length === 0 ? columns.visitAt.length : visits, stay: stay.list(), go: go.list() });
    before = left;
    yield stage();
  }
  if (others.length === 0) return;
  const apart = yield* counted(others, () => undefined);
  collisions = others.map(({ id }) => ({ campaign: id, alone: apart(id), together: together(id) }));
  yield stage();
}

function distribute(columns: Columns, showings: readonly RehearsedShowing[]): Distributions {
  const { devices, channels, towns } = columns;
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
    devices: byName(showings, columns.device, devices),
    channels: byName(showings, columns.channel, channels),
    towns: byName(showings, columns.town, towns),
    pages: [...pages].sort((a, b) => b[1] - a[1]).map(([page, shown]) => ({ url: columns.pages[page]?.url ?? '', showings: shown })),
  };
}

function byName(showings: readonly RehearsedShowing[], ofVisit: ArrayLike<number>, names: readonly string[]): Record<string, number> {
  const counts = new Map<string, number>();
  for (const { visit } of showings) {
    const name = names[ofVisit[visit] as number] ?? '';
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return Object.fromEntries(counts);
}
