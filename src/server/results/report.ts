import type { Dimension, Exposure } from '@/core/results/report';
import type { WholeReport } from '@/core/results/whole';
import { USUAL_PLAN } from '@/core/results/span';
import { analyse } from '../analysis/analyse';
import type { StoredCampaign } from '../db/campaigns';
import type { Queryable } from '../db/queryable';
import type { ReleaseMark } from './load';
import { loadSplits } from './load';

export interface CampaignResults extends WholeReport {
  /** UTC ms. */
  readonly from: number;
  readonly to: number;
  readonly marks: readonly ReleaseMark[];
  readonly goalChangedAt: number | null;
}

export const TABLES: readonly Dimension[] = ['device', 'channel', 'returning', 'known', 'country'];

export interface Period {
  readonly from: number;
  readonly to: number;
  readonly now: number;
  readonly zone: string;
}

/** Everything that a campaign's results show of a period. @throws AnalysisAway where what works it out is away */
export async function campaignResults(
  db: Queryable,
  siteId: number,
  campaign: StoredCampaign,
  { from, to, now, zone, by, points }: Period & { readonly by?: Dimension | undefined; readonly points?: number | undefined },
): Promise<CampaignResults> {
  const { splits, marks, goalChangedAt } = await loadSplits(db, siteId, campaign.id);
  const report = await analyse({
    kind: 'results',
    site: siteId,
    campaign: campaign.id,
    goal: campaign.goal,
    variants: (campaign.variants ?? []).map(({ name }) => name),
    splits: [...splits],
    planned: USUAL_PLAN,
    zone,
    from,
    to,
    now,
    points: points === undefined ? undefined : points / 100,
    tables: by && by !== 'variant' && !TABLES.includes(by) ? [by, ...TABLES] : TABLES,
  });
  return { from, to, ...report, marks: marks.filter(({ at }) => at < to), goalChangedAt: goalChangedAt ?? null };
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
