import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { actionsSchema } from '../action';
import { wordsUpTo } from '../bounds';
import { fieldSchema } from '../field';

const formSchema = () =>
  z.strictObject({
    kind: z.literal('form'),
    fields: z
      .array(fieldSchema())
      .min(1)
      .max(20)
      .refine((fields) => new Set(fields.map(({ name }) => name)).size === fields.length, { error: 'fields.sameName' }),
    submit: wordsUpTo(100),
    thanks: wordsUpTo(500),
    does: actionsSchema().optional(),
  });
export type FormBlock = z.infer<ReturnType<typeof formSchema>>;

export const formBlock: BlockKind<FormBlock, 'show'> = {
  kind: 'form',
  schema: formSchema,
  label: 'Form',
  make: () => ({
    kind: 'form',
    fields: [{ kind: 'email', name: 'email', label: 'Your email', required: true }],
    submit: 'Send',
    thanks: 'Thank you.',
  }),
  drawnBy: 'show',
  rank: 6,
  actions: ({ does }) => (does ? [{ path: ['does'], does }] : []),
  example: (fc) => fc.constant(formBlock.make()),
};
