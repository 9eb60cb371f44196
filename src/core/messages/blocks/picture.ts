import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { addressSchema, textUpTo } from '../bounds';

const pictureSchema = () =>
  // A picture that only decorates says so by an empty description.
  z.strictObject({
    kind: z.literal('picture'),
    src: addressSchema(),
    alt: textUpTo(300),
    width: z.int().min(1).max(4000),
    height: z.int().min(1).max(4000),
  });
export type PictureBlock = z.infer<ReturnType<typeof pictureSchema>>;

export const pictureBlock: BlockKind<PictureBlock, 'show'> = {
  kind: 'picture',
  schema: pictureSchema,
  label: 'Picture',
  make: () => ({ kind: 'picture', src: '/picture.svg', alt: '', width: 400, height: 240 }),
  drawnBy: 'show',
  rank: 0,
  actions: () => [],
  example: (fc) => fc.constant(pictureBlock.make()),
};
