import { z } from 'zod';
import type { ActionKind } from '../actionKind';

const endSchema = () => z.strictObject({ kind: z.literal('end') });
export type EndAction = z.infer<ReturnType<typeof endSchema>>;

export const endAction: ActionKind<EndAction> = {
  kind: 'end',
  schema: endSchema,
  label: 'Close and end',
  make: () => ({ kind: 'end' }),
  words: () => 'closes and ends',
  ending: 'ends',
  example: (fc) => fc.constant({ kind: 'end' as const }),
};
