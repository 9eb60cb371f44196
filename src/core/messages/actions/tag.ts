import { z } from 'zod';
import type { ActionKind } from '../actionKind';
import { wordsUpTo } from '../bounds';

const tagSchema = () => z.strictObject({ kind: z.literal('tag'), tag: wordsUpTo(100) });
export type TagAction = z.infer<ReturnType<typeof tagSchema>>;

export const tagAction: ActionKind<TagAction> = {
  kind: 'tag',
  schema: tagSchema,
  label: 'Tag the visitor',
  make: () => ({ kind: 'tag', tag: 'interested' }),
  words: ({ tag }) => `tags ${tag}`,
  ending: 'stays',
  example: (fc) => fc.constant({ kind: 'tag' as const, tag: 'interested' }),
};
