import { z } from 'zod';
import { actionsSchema, addressSchema } from './action';

const text = (most: number) => z.string().max(most);
const words = (most: number) => z.string().min(1).max(most);

export const FIELD_KINDS = ['text', 'email', 'phone', 'number', 'choice', 'choices', 'date', 'consent'] as const;

/** `name` is what the answer is kept under; `pattern` is a regular expression that the whole text must match. */
export const fieldSchema = () =>
  z
    .strictObject({
      kind: z.enum(FIELD_KINDS),
      name: z.string().regex(/^[a-z][a-z0-9_]{0,59}$/i),
      label: words(300),
      required: z.boolean().optional(),
      options: z.array(words(200)).min(1).max(30).optional(),
      pattern: words(200)
        .refine((source) => canParse(source), { error: 'pattern.unreadable' })
        .optional(),
      min: z.number().optional(),
      max: z.number().optional(),
    })
    .refine(({ kind, options }) => (kind === 'choice' || kind === 'choices') === (options !== undefined), {
      error: 'field.options',
      path: ['options'],
    })
    .refine(({ min, max }) => min === undefined || max === undefined || min <= max, { error: 'range.upsideDown', path: ['max'] });
export type Field = z.infer<ReturnType<typeof fieldSchema>>;

function canParse(source: string): boolean {
  try {
    return new RegExp(source, 'v') instanceof RegExp;
  } catch {
    return false;
  }
}

const answerSchema = () => z.strictObject({ label: words(200), does: actionsSchema() });

const simpleBlocks = () =>
  [
    z.strictObject({ kind: z.literal('heading'), text: text(200) }),
    z.strictObject({ kind: z.literal('text'), text: text(2000) }),
    // A picture that only decorates says so by an empty description.
    z.strictObject({
      kind: z.literal('picture'),
      src: addressSchema(),
      alt: text(300),
      width: z.int().min(1).max(4000),
      height: z.int().min(1).max(4000),
    }),
    z.strictObject({
      kind: z.literal('buttons'),
      buttons: z
        .array(z.strictObject({ label: words(100), quiet: z.boolean().optional(), does: actionsSchema() }))
        .min(1)
        .max(6),
    }),
    z.strictObject({
      kind: z.literal('form'),
      fields: z
        .array(fieldSchema())
        .min(1)
        .max(20)
        .refine((fields) => new Set(fields.map(({ name }) => name)).size === fields.length, { error: 'fields.sameName' }),
      submit: words(100),
      thanks: words(500),
      does: actionsSchema().optional(),
    }),
    z.strictObject({ kind: z.literal('choice'), question: words(300), answers: z.array(answerSchema()).min(2).max(12) }),
    // Until an instant (ISO 8601), or for some minutes from the first time this browser sees it.
    z.strictObject({
      kind: z.literal('countdown'),
      until: z.iso.datetime({ offset: true }).optional(),
      minutes: z.number().gt(0).max(43_200).optional(),
      over: words(300),
    }),
    z.strictObject({ kind: z.literal('coupon'), code: words(60), label: words(200) }),
    z.strictObject({
      kind: z.literal('rating'),
      question: words(300),
      most: z.int().min(2).max(10),
      thanks: words(300),
      does: actionsSchema().optional(),
    }),
    z.strictObject({ kind: z.literal('spacer'), height: z.int().min(1).max(200) }),
  ] as const;

const simpleBlockSchema = () => z.discriminatedUnion('kind', [...simpleBlocks()]);
export type SimpleBlock = z.infer<ReturnType<typeof simpleBlockSchema>>;

export const blockSchema = () =>
  z
    .discriminatedUnion('kind', [
      ...simpleBlocks(),
      z.strictObject({
        kind: z.literal('columns'),
        start: z.array(simpleBlockSchema()).max(15),
        end: z.array(simpleBlockSchema()).max(15),
      }),
    ])
    .refine((block) => block.kind !== 'countdown' || (block.until === undefined) !== (block.minutes === undefined), {
      error: 'countdown.end',
      path: ['until'],
    });
export type Block = z.infer<ReturnType<typeof blockSchema>>;
export type BlockOf<K extends Block['kind']> = Extract<Block, { kind: K }>;

/** Every block, those in columns included. */
export const allBlocks = (blocks: readonly Block[]): readonly Block[] =>
  blocks.flatMap((block) => (block.kind === 'columns' ? [block, ...block.start, ...block.end] : [block]));
