import { z } from 'zod';
import type { BlockKind } from '../blockKind';
import { wordsUpTo } from '../bounds';

const countdownSchema = () =>
  // Until an instant (ISO 8601), or for some minutes from the first time this browser sees it.
  z
    .strictObject({
      kind: z.literal('countdown'),
      until: z.iso.datetime({ offset: true }).optional(),
      minutes: z.number().gt(0).max(43_200).optional(),
      over: wordsUpTo(300),
    })
    .refine(({ until, minutes }) => (until === undefined) !== (minutes === undefined), { error: 'countdown.end', path: ['until'] });
export type CountdownBlock = z.infer<ReturnType<typeof countdownSchema>>;

export const countdownBlock: BlockKind<CountdownBlock, 'extras'> = {
  kind: 'countdown',
  schema: countdownSchema,
  label: 'Countdown',
  make: () => ({ kind: 'countdown', minutes: 60, over: 'It is over.' }),
  drawnBy: 'extras',
  rank: 3,
  actions: () => [],
  example: (fc) => fc.constant(countdownBlock.make()),
};
