import { z } from 'zod';
import { patternSchema } from '../pages/pattern';
import { whereSchema } from '../people/kinds/did';
import { nameSchema, ruleSchema } from '../rules/schema';
import { idSchema } from '../messages/bounds';
import { flowSchema } from '../flows/flow';

export const CAMPAIGN_STATUSES = ['draft', 'scheduled', 'live', 'paused', 'ended'] as const;
export type CampaignStatus = (typeof CAMPAIGN_STATUSES)[number];

/** What one success is worth, in the site's money. */
const worth = () => z.number().min(0).max(1e9);

/**
 * What counts as success. `days` is how long after meeting the campaign a page, an event or a reply still counts; without it, always. `value` is what
 * it is worth: a number, or of an event the property that says so.
 */
const days = () => z.number().gt(0).max(90);
const pageGoalSchema = z.strictObject({
  kind: z.literal('page'),
  pages: z.array(patternSchema()).min(1).max(50),
  days: days(),
  value: worth().optional(),
});
const eventGoalSchema = z.strictObject({
  kind: z.literal('event'),
  event: z.string().min(1).max(200),
  where: whereSchema().optional(),
  days: days(),
  value: z.union([worth(), z.strictObject({ prop: z.string().min(1).max(200) })]).optional(),
});
/** The id of the site's goal that this is a copy of. */
const named = { named: z.string().min(1).max(100).optional() };

/** What a site names as success for any number of campaigns: what visitors do on its pages, not what they do with a message. */
export const siteGoalSchema = z.discriminatedUnion('kind', [pageGoalSchema, eventGoalSchema]);
export type SiteGoal = z.infer<typeof siteGoalSchema>;

export const goalSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('form'), value: worth().optional() }),
  z.strictObject({ kind: z.literal('reply'), value: worth().optional() }),
  pageGoalSchema.extend(named),
  eventGoalSchema.extend(named),
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

/** Can the message itself alone bring it about? Then it cannot be compared with seeing nothing. */
export const isOwnGoal = ({ kind }: Goal): boolean => kind === 'form' || kind === 'reply';
