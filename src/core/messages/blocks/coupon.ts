import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { wordsUpTo } from '../bounds';

const couponSchema = () => z.strictObject({ kind: z.literal('coupon'), code: wordsUpTo(60), label: wordsUpTo(200) });
export type CouponBlock = z.infer<ReturnType<typeof couponSchema>>;

export const couponBlock: BlockKind<CouponBlock, 'extras'> = {
  kind: 'coupon',
  schema: couponSchema,
  label: 'Coupon',
  make: () => ({ kind: 'coupon', code: 'CODE', label: 'Copy' }),
  drawnBy: 'extras',
  rank: 4,
  actions: () => [],
  example: (fc) => fc.constant(couponBlock.make()),
};
