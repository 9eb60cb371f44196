// Every kind of block that can stand in a column.
import { z } from 'zod';
import type { Expr } from '../logic/expr';
import type { PeopleCondition } from '../people/condition';
import { peopleSchema } from '../rules/schema';
import type { BlockKind } from './blockKind';
import { buttonsBlock } from './blocks/buttons';
import { choiceBlock } from './blocks/choice';
import { countdownBlock } from './blocks/countdown';
import { couponBlock } from './blocks/coupon';
import { formBlock } from './blocks/form';
import { headingBlock } from './blocks/heading';
import { pictureBlock } from './blocks/picture';
import { ratingBlock } from './blocks/rating';
import { richBlock } from './blocks/rich';
import { spacerBlock } from './blocks/spacer';
import { textBlock } from './blocks/text';

export const SIMPLE_BLOCKS = {
  heading: headingBlock,
  text: textBlock,
  rich: richBlock,
  picture: pictureBlock,
  buttons: buttonsBlock,
  form: formBlock,
  choice: choiceBlock,
  countdown: countdownBlock,
  coupon: couponBlock,
  rating: ratingBlock,
  spacer: spacerBlock,
} as const;

type Kinds = typeof SIMPLE_BLOCKS;
export type SimpleBlock = { [K in keyof Kinds]: Kinds[K] extends BlockKind<infer B> ? B & ForSome : never }[keyof Kinds];

/** Whom a block is for; everybody where nothing is said. */
export interface ForSome {
  readonly for?: Expr<PeopleCondition> | undefined;
}

/** One for all kinds: it is large. */
let shared: z.ZodType<Expr<PeopleCondition> | undefined> | undefined;
const forSchema = () => (shared ??= peopleSchema().optional());

/** What can be said of any block, beside what is its kind's. */
export const withForSome = (schema: z.ZodType): z.ZodObject => (schema as z.ZodObject).extend({ for: forSchema() });

export const simpleSchemas = (): z.ZodObject[] => Object.values(SIMPLE_BLOCKS).map(({ schema }) => withForSome(schema()));

export const simpleBlockSchema = () =>
  z.discriminatedUnion('kind', simpleSchemas() as [z.ZodObject, ...z.ZodObject[]]) as unknown as z.ZodType<SimpleBlock>;
