import { z } from 'zod';
import { patternSchema } from '../pages/pattern';
import { nameSchema, ruleSchema } from '../rules/schema';
import { idSchema } from '../messages/bounds';
import { flowSchema } from '../flows/flow';

export const CAMPAIGN_STATUSES = ['draft', 'scheduled', 'live', 'paused', 'ended'] as const;
export type CampaignStatus = (typeof CAMPAIGN_STATUSES)[number];

/** What counts as a conversion of a showing. `days` is how long after it a page or an event still counts. */
export const goalSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('form') }),
  z.strictObject({ kind: z.literal('page'), pages: z.array(patternSchema()).min(1).max(50), days: z.number().gt(0).max(90) }),
  z.strictObject({ kind: z.literal('event'), event: z.string().min(1).max(200), days: z.number().gt(0).max(90) }),
]);
export type Goal = z.infer<typeof goalSchema>;

export const campaignSchema = z
  .strictObject({
    version: z.literal(1).optional(),
    name: nameSchema,
    goal: goalSchema,
    rule: ruleSchema,
    flow: flowSchema(),
    holdout: z.number().min(0).max(0.9).optional(),
    variants: z
      .array(z.strictObject({ name: z.string().min(1).max(100), weight: z.number().gt(0).max(1000), start: idSchema() }))
      .min(2)
      .max(6)
      .refine((variants) => new Set(variants.map(({ name }) => name)).size === variants.length, { error: 'variants.sameName' })
      .optional(),
  })
  .refine(({ flow, variants = [] }) => variants.every(({ start }) => flow.messages.some(({ id }) => id === start)), {
    error: 'variants.start',
    path: ['variants'],
  });
export type CampaignDocument = z.infer<typeof campaignSchema>;
