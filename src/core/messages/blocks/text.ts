import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { textUpTo } from '../bounds';

const textSchema = () => z.strictObject({ kind: z.literal('text'), text: textUpTo(2000) });
export type TextBlock = z.infer<ReturnType<typeof textSchema>>;

export const textBlock: BlockKind<TextBlock, 'show'> = {
  kind: 'text',
  schema: textSchema,
  label: 'Text',
  make: () => ({ kind: 'text', text: '' }),
  drawnBy: 'show',
  rank: 2,
  actions: () => [],
  example: (fc) => fc.string({ maxLength: 20 }).map((text) => ({ kind: 'text' as const, text })),
};
