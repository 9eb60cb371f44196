import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { textUpTo } from '../bounds';

const headingSchema = () => z.strictObject({ kind: z.literal('heading'), text: textUpTo(200) });
export type HeadingBlock = z.infer<ReturnType<typeof headingSchema>>;

export const headingBlock: BlockKind<HeadingBlock, 'show'> = {
  kind: 'heading',
  schema: headingSchema,
  label: 'Heading',
  make: () => ({ kind: 'heading', text: '' }),
  drawnBy: 'show',
  rank: 1,
  actions: () => [],
  example: (fc) => fc.string({ maxLength: 20 }).map((text) => ({ kind: 'heading' as const, text })),
};
