import { z } from 'zod';
import type { Moment } from '../moments/moment';
import { momentKindOf, momentSchema } from '../moments/moment';
import { pacingSchema } from '../pacing/pacing';
import { pagesSchema } from '../pages/pages';
import type { PeopleCondition } from '../people/condition';
import { peopleConditionSchema } from '../people/condition';
import { lookbackSchema } from '../people/within';
import { exprSchema } from '../logic/exprSchema';

export const RULE_VERSION = 1;

/** An instant cannot be negated: "did not move to leave" has no moment at which it comes true. */
const refuseInstantInNone = (moment: Moment, isInNone: boolean) =>
  isInNone && momentKindOf(moment).isInstant ? 'moment.instantInNone' : undefined;

export const peopleSchema = () => exprSchema<PeopleCondition>(peopleConditionSchema);
export const momentExprSchema = () => exprSchema<Moment>(momentSchema, refuseInstantInNone);

export const ruleSchema = z.strictObject({
  version: z.literal(RULE_VERSION).optional(),
  people: peopleSchema().optional(),
  pages: pagesSchema().optional(),
  moment: momentExprSchema().optional(),
  pacing: pacingSchema().optional(),
});
export type Rule = z.infer<typeof ruleSchema>;

export const nameSchema = z.string().trim().min(1).max(200);

export const segmentSchema = z.strictObject({
  version: z.literal(RULE_VERSION).optional(),
  id: z.string().min(1).max(100).optional(),
  name: nameSchema.optional(),
  lookback: lookbackSchema(),
  people: peopleSchema(),
});
export type SegmentDocument = z.infer<typeof segmentSchema>;
