import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { actionsSchema } from '../action';
import { wordsUpTo } from '../bounds';

const buttonsSchema = () =>
  z.strictObject({
    kind: z.literal('buttons'),
    buttons: z
      .array(z.strictObject({ label: wordsUpTo(100), quiet: z.boolean().optional(), does: actionsSchema() }))
      .min(1)
      .max(6),
  });
export type ButtonsBlock = z.infer<ReturnType<typeof buttonsSchema>>;

export const buttonsBlock: BlockKind<ButtonsBlock, 'show'> = {
  kind: 'buttons',
  schema: buttonsSchema,
  label: 'Buttons',
  make: () => ({ kind: 'buttons', buttons: [{ label: 'Read more', does: [{ kind: 'page', url: '/' }] }] }),
  drawnBy: 'show',
  rank: 10,
  actions: ({ buttons }) => buttons.map(({ does }, at) => ({ path: ['buttons', at, 'does'], does })),
  example: (fc) => fc.constant(buttonsBlock.make()),
};
