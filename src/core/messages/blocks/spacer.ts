import { z } from 'zod';
import type { BlockKind } from '../blockKind';

const spacerSchema = () => z.strictObject({ kind: z.literal('spacer'), height: z.int().min(1).max(200) });
export type SpacerBlock = z.infer<ReturnType<typeof spacerSchema>>;

export const spacerBlock: BlockKind<SpacerBlock, 'show'> = {
  kind: 'spacer',
  schema: spacerSchema,
  label: 'Space',
  make: () => ({ kind: 'spacer', height: 16 }),
  drawnBy: 'show',
  rank: 9,
  actions: () => [],
  example: (fc) => fc.constant(spacerBlock.make()),
};
