import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { actionsSchema } from '../action';
import { wordsUpTo } from '../bounds';

const choiceSchema = () =>
  z.strictObject({
    kind: z.literal('choice'),
    question: wordsUpTo(300),
    answers: z
      .array(z.strictObject({ label: wordsUpTo(200), does: actionsSchema() }))
      .min(2)
      .max(12),
  });
export type ChoiceBlock = z.infer<ReturnType<typeof choiceSchema>>;

export const choiceBlock: BlockKind<ChoiceBlock, 'show'> = {
  kind: 'choice',
  schema: choiceSchema,
  label: 'Question',
  make: () => ({
    kind: 'choice',
    question: 'Shall we?',
    answers: [
      { label: 'Yes', does: [{ kind: 'close' }] },
      { label: 'No', does: [{ kind: 'close' }] },
    ],
  }),
  drawnBy: 'show',
  rank: 7,
  actions: ({ answers }) => answers.map(({ does }, at) => ({ path: ['answers', at, 'does'], does })),
  example: (fc) => fc.constant(choiceBlock.make()),
};
