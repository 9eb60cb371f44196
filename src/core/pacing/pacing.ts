import { z } from 'zod';
import type { Outcome } from '../history/visitor';
import { DAY_MS } from '../time/day';

export const pacingSchema = () =>
  z.strictObject({
    again: z.union([z.enum(['each', 'always', 'visit', 'never']), z.strictObject({ days: z.number().gt(0).max(540) })]).optional(),
    stop: z
      .strictObject({ converted: z.boolean().optional(), dismissed: z.int().min(1).optional(), shown: z.int().min(1).optional() })
      .optional(),
    alone: z.boolean().optional(),
  });
export type Pacing = z.infer<ReturnType<typeof pacingSchema>>;

export const budgetSchema = () =>
  z.strictObject({ perVisit: z.int().min(0).optional(), gapSeconds: z.number().min(0).max(86_400).optional() });
export type Budget = z.infer<ReturnType<typeof budgetSchema>>;

/** What one browser has seen of one campaign. Instants are UTC ms. */
export interface CampaignRecord {
  lastAt?: number | undefined;
  shown: number;
  dismissed: number;
  converted: number;
}

/** What one browser has been shown, ever and in the visit under way. Only what was paced counts. */
export interface PacingRecord {
  campaigns: Record<string, CampaignRecord>;
  lastAt?: number | undefined;
  visit: { startedAt: number; showings: number; campaigns: string[] };
}

export function emptyPacing(visitStartedAt: number): PacingRecord {
  return { campaigns: {}, visit: { startedAt: visitStartedAt, showings: 0, campaigns: [] } };
}

export function recordOf(record: PacingRecord, campaign: string): CampaignRecord {
  return (record.campaigns[campaign] ??= { shown: 0, dismissed: 0, converted: 0 });
}

/** The instant until which pacing blocks the campaign in this visit: in the past if it does not, Infinity if for good. */
export function blockedUntil({ again = 'visit', stop, alone }: Pacing, campaign: string, record: PacingRecord): number {
  const seen = record.campaigns[campaign];
  if (alone && record.visit.campaigns.some((other) => other !== campaign)) return Infinity;
  if (!seen) return -Infinity;
  if (stop?.converted !== false && seen.converted > 0) return Infinity;
  if (stop?.dismissed !== undefined && seen.dismissed >= stop.dismissed) return Infinity;
  if (stop?.shown !== undefined && seen.shown >= stop.shown) return Infinity;
  if (again === 'never') return seen.shown > 0 ? Infinity : -Infinity;
  if (again === 'visit') return record.visit.campaigns.includes(campaign) ? Infinity : -Infinity;
  if (typeof again === 'object' && seen.lastAt !== undefined) return seen.lastAt + again.days * DAY_MS;
  return -Infinity;
}

/** The instant until which the site's budget blocks every campaign. The gap is at least a second. */
export function budgetBlockedUntil(budget: Budget | undefined, record: PacingRecord): number {
  if (budget?.perVisit !== undefined && record.visit.showings >= budget.perVisit) return Infinity;
  return record.lastAt === undefined ? -Infinity : record.lastAt + Math.max(1, budget?.gapSeconds ?? 1) * 1000;
}

export function noteShowing(record: PacingRecord, campaign: string, at: number): void {
  const seen = recordOf(record, campaign);
  seen.shown++;
  seen.lastAt = at;
  record.lastAt = at;
  record.visit.showings++;
  if (!record.visit.campaigns.includes(campaign)) record.visit.campaigns.push(campaign);
}

export function noteOutcome(record: PacingRecord, campaign: string, outcome: Outcome): void {
  const seen = recordOf(record, campaign);
  if (outcome === 'converted') seen.converted++;
  if (outcome === 'dismissed') seen.dismissed++;
}
