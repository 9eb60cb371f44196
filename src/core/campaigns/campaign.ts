import { z } from 'zod';
import { patternSchema } from '../pages/pattern';
import { nameSchema, ruleSchema } from '../rules/schema';
import { messageSchema } from '../messages/message';

export const CAMPAIGN_STATUSES = ['draft', 'scheduled', 'live', 'paused', 'ended'] as const;
export type CampaignStatus = (typeof CAMPAIGN_STATUSES)[number];

/** What counts as a conversion of a showing. `days` is how long after it a page or an event still counts. */
export const goalSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('form') }),
  z.strictObject({ kind: z.literal('page'), pages: z.array(patternSchema()).min(1).max(50), days: z.number().gt(0).max(90) }),
  z.strictObject({ kind: z.literal('event'), event: z.string().min(1).max(200), days: z.number().gt(0).max(90) }),
]);
export type Goal = z.infer<typeof goalSchema>;

export const campaignSchema = z.strictObject({
  version: z.literal(1).optional(),
  name: nameSchema,
  goal: goalSchema,
  rule: ruleSchema,
  message: messageSchema,
});
export type CampaignDocument = z.infer<typeof campaignSchema>;
