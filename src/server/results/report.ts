import type { Dimension, Exposure } from '@/core/results/report';
import type { Looks } from '@/core/results/span';
import type { WholeReport } from '@/core/results/whole';
import { USUAL_PLAN } from '@/core/results/span';
import { analyse } from '../analysis/analyse';
import type { StoredCampaign } from '../db/campaigns';
import type { Queryable } from '../db/queryable';
import { keptOf, visitsKeptSince } from '../privacy/retention';
import type { DealtOut, ReleaseMark } from './load';
import { loadSplits } from './load';

export interface CampaignResults extends WholeReport {
  /** UTC ms. */
  readonly from: number;
  readonly to: number;
  readonly marks: readonly ReleaseMark[];
  /** From each of these on those who meet it are compared anew; the oldest first. */
  readonly starts: readonly ReleaseMark[];
  /** Of these the one that it is of; null where a period was chosen. */
  readonly since: number | null;
  readonly goalChangedAt: number | null;
  /** Before this nothing is kept of visits, which is in no number; null where all is kept. UTC ms. */
  readonly keptSince: number | null;
}

export const TABLES: readonly Dimension[] = ['device', 'channel', 'returning', 'known', 'country'];

/** Of whom results are: a period (UTC ms), or those who met it since it was released so (`since`: the release's number), by itself the last time that it became another. */
export interface AskedPeriod {
  readonly from?: number | undefined;
  readonly to?: number | undefined;
  readonly since?: number | undefined;
}

export interface PeriodOfResults {
  readonly from: number;
  readonly to: number;
  readonly since: number | null;
  readonly looks: Looks;
}

/** Only what goes on from a fixed start may be looked at always; any other period once. */
export function periodOf({ from, to, since }: AskedPeriod, { starts }: Pick<DealtOut, 'starts'>, now: number): PeriodOfResults {
  if (from !== undefined || to !== undefined) return { from: from ?? 0, to: to ?? now, since: null, looks: 'once' };
  const begun = starts.filter(({ at }) => at < now);
  const asked = begun.findIndex(({ number }) => number === since);
  const nth = asked < 0 ? begun.length - 1 : asked;
  return { from: begun[nth]?.at ?? 0, to: begun[nth + 1]?.at ?? now, since: begun[nth]?.number ?? null, looks: 'always' };
}

/** Everything that a campaign's results show. @throws AnalysisAway where what works it out is away */
export async function campaignResults(
  db: Queryable,
  siteId: number,
  campaign: StoredCampaign,
  {
    now,
    zone,
    by,
    points,
    ...asked
  }: AskedPeriod & {
    readonly now: number;
    readonly zone: string;
    readonly by?: Dimension | undefined;
    readonly points?: number | undefined;
  },
): Promise<CampaignResults> {
  const { splits, marks, starts, goalChangedAt } = await loadSplits(db, siteId, campaign.id);
  const { from, to, since, looks } = periodOf(asked, { starts }, now);
  const report = await analyse({
    kind: 'results',
    site: siteId,
    campaign: campaign.id,
    goal: campaign.goal,
    variants: (campaign.variants ?? []).map(({ name }) => name),
    splits: [...splits],
    planned: USUAL_PLAN,
    looks,
    zone,
    from,
    to,
    now,
    points: points === undefined ? undefined : points / 100,
    tables: by && by !== 'variant' && !TABLES.includes(by) ? [by, ...TABLES] : TABLES,
  });
  const { visits: days } = await keptOf(db, siteId);
  const keptSince = days === null ? null : visitsKeptSince(days, now);
  return { from, to, since, keptSince, ...report, marks: marks.filter(({ at }) => at < to), starts, goalChangedAt: goalChangedAt ?? null };
}

/**
 * What the overview and the weekly mail say of a campaign: counts of a period, and the difference as it stands since the campaign last became another, which may be
 * looked at always. `from`, `to`: UTC ms.
 */
export async function campaignOverview(
  db: Queryable,
  siteId: number,
  campaign: StoredCampaign,
  { from, to, now, zone }: { from: number; to?: number | undefined; now: number; zone: string },
): Promise<CampaignResults> {
  const [counted, known] = [
    await campaignResults(db, siteId, campaign, { from, to: to ?? now, now, zone }),
    await campaignResults(db, siteId, campaign, { now, zone }),
  ];
  const against = new Map(known.rows.map((row) => [row.value, row.against]));
  return {
    ...counted,
    looks: known.looks,
    since: known.since,
    shares: known.shares,
    rows: counted.rows.map((row) => ({ ...row, against: against.get(row.value) ?? null })),
  };
}

/** A line of the command's file. */
export const visitorLine = ({
  visitor,
  met,
  dealt,
  shown,
  success,
  value,
  device,
  channel,
  page,
  country,
  known,
  returning,
}: Exposure): string => JSON.stringify({ visitor, met, dealt, shown, success, value, device, channel, page, country, known, returning });
