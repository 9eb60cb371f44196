import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { actionsSchema } from '../action';
import { wordsUpTo } from '../bounds';

const ratingSchema = () =>
  z.strictObject({
    kind: z.literal('rating'),
    question: wordsUpTo(300),
    most: z.int().min(2).max(10),
    thanks: wordsUpTo(300),
    does: actionsSchema().optional(),
  });
export type RatingBlock = z.infer<ReturnType<typeof ratingSchema>>;

export const ratingBlock: BlockKind<RatingBlock, 'extras'> = {
  kind: 'rating',
  schema: ratingSchema,
  label: 'Rating',
  make: () => ({ kind: 'rating', question: 'How was it?', most: 5, thanks: 'Thank you.' }),
  drawnBy: 'extras',
  rank: 8,
  actions: ({ does }) => (does ? [{ path: ['does'], does }] : []),
  example: (fc) => fc.constant(ratingBlock.make()),
};
