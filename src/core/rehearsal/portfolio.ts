import type { CampaignToRehearse, RehearsalInput } from './rehearse';
import { rehearseInSteps } from './rehearse';

/** One campaign's showings, and what the others take from it. */
export interface Share {
  readonly campaign: string;
  /** With all campaigns, in the site's order and under its budget. */
  readonly together: number;
  /** If there were no other campaign and no budget; undefined until it is worked out. */
  readonly alone?: number;
  /** What those above it and the places they hold take; below zero where they clear its way. */
  readonly toOrder?: number;
  /** What the budget takes. */
  readonly toBudget?: number;
}

export interface PortfolioReport {
  readonly shares: readonly Share[];
  /** Showings of all campaigns together, and the visits in which there were any. */
  readonly showings: number;
  readonly visits: number;
  /** Of how many. */
  readonly of: number;
  readonly done: number;
  readonly runs: number;
}

/** Plays all campaigns at once, then without the budget, then each alone; the first stage has the counts that matter most, undefined is a pause. */
export function* rehearsePortfolio(
  campaigns: readonly CampaignToRehearse[],
  input: Omit<RehearsalInput, 'campaigns' | 'unknownShows'>,
): Generator<PortfolioReport | undefined> {
  const { budget: _budget, ...free } = input;
  const runs = 2 + campaigns.length;
  const of = input.columns.visitAt.length;
  const isIn = new Uint8Array(of);
  let [showings, visits] = [0, 0];
  const together = new Map<string, number>();
  yield* rehearseInSteps({ ...input, campaigns }, ({ campaign, visit }) => {
    add(together, campaign);
    showings++;
    visits += 1 - (isIn[visit] as number);
    isIn[visit] = 1;
  });
  const count = (counts: ReadonlyMap<string, number>, id: string): number => counts.get(id) ?? 0;
  let shares: Share[] = campaigns.map(({ id }) => ({ campaign: id, together: count(together, id) }));
  yield { shares, showings, visits, of, done: 1, runs };
  const unlimited = new Map<string, number>();
  yield* rehearseInSteps({ ...free, campaigns }, ({ campaign }) => add(unlimited, campaign));
  shares = shares.map((share) => ({ ...share, toBudget: count(unlimited, share.campaign) - share.together }));
  yield { shares, showings, visits, of, done: 2, runs };
  for (const [nth, campaign] of campaigns.entries()) {
    let alone = 0;
    yield* rehearseInSteps({ ...free, campaigns: [campaign] }, () => alone++);
    shares = shares.map((share) =>
      share.campaign === campaign.id ? { ...share, alone, toOrder: alone - count(unlimited, campaign.id) } : share,
    );
    yield { shares, showings, visits, of, done: 3 + nth, runs };
  }
}

const add = (counts: Map<string, number>, campaign: string): unknown => counts.set(campaign, (counts.get(campaign) ?? 0) + 1);
