import { isOwnGoal } from '@/core/campaigns/campaign';
import type { By, KnownBy, MetVisitor, Report, ReportOptions, StillNeeded } from '@/core/results/report';
import { courseOf, reportOn, rowsBy, stillNeeded } from '@/core/results/report';
import { USUAL_PLAN } from '@/core/results/span';
import type { ResultRow } from '@/core/results/report';
import type { StoredCampaign } from '../db/campaigns';
import type { Queryable } from '../db/queryable';
import type { ReleaseMark } from './load';
import { loadMet, loadSplits } from './load';

export interface CampaignResults extends Report {
  /** UTC ms. */
  readonly from: number;
  readonly to: number;
  readonly course: readonly KnownBy[];
  readonly marks: readonly ReleaseMark[];
  readonly isOwnGoal: boolean;
  readonly goalChangedAt: number | null;
  /** Until a difference of a point would be clear. */
  readonly needed: StillNeeded | null;
  /** Tables besides that of the variants. */
  readonly by: readonly { readonly by: By; readonly rows: readonly ResultRow[] }[];
}

const A_POINT = 0.01;
const TABLES: readonly By[] = ['device', 'channel', 'returning', 'known', 'country'];

export interface Period {
  readonly from: number;
  readonly to: number;
  readonly now: number;
  readonly zone: string;
}

export function optionsFor(
  { goal, variants = [] }: Pick<StoredCampaign, 'goal' | 'variants'>,
  { now, zone }: Pick<Period, 'now' | 'zone'>,
  splits: ReportOptions['splits'],
): ReportOptions {
  return {
    days: 'days' in goal ? goal.days : Infinity,
    isOwnGoal: isOwnGoal(goal),
    variants: variants.map(({ name }) => name),
    planned: USUAL_PLAN,
    now,
    zone,
    ...(splits ? { splits } : {}),
  };
}

/** Everything that a campaign's results show of a period. */
export async function campaignResults(db: Queryable, siteId: number, campaign: StoredCampaign, period: Period): Promise<CampaignResults> {
  const { from, to, now } = period;
  const { splits, marks, goalChangedAt } = await loadSplits(db, siteId, campaign.id);
  const visitors = await loadMet(db, siteId, { campaign: campaign.id, goal: campaign.goal, from, to, now });
  const options = optionsFor(campaign, period, splits);
  return {
    from,
    to,
    ...reportOn(visitors, options),
    course: courseOf(visitors, options),
    marks: marks.filter(({ at }) => at < to),
    isOwnGoal: options.isOwnGoal,
    goalChangedAt: goalChangedAt ?? null,
    needed: stillNeeded(visitors, options, { points: A_POINT, to: Math.min(to, now) }) ?? null,
    by: TABLES.map((by) => ({ by, rows: rowsBy(visitors, by, options) })),
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
}: MetVisitor): string => JSON.stringify({ visitor, met, dealt, shown, success, value, device, channel, page, country, known, returning });
