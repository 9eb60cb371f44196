import { z } from 'zod';
import type { ActionKind } from '../actionKind';

const closeSchema = () => z.strictObject({ kind: z.literal('close') });
export type CloseAction = z.infer<ReturnType<typeof closeSchema>>;

export const closeAction: ActionKind<CloseAction> = {
  kind: 'close',
  schema: closeSchema,
  label: 'Close',
  make: () => ({ kind: 'close' }),
  words: () => 'closes',
  ending: 'closes',
  example: (fc) => fc.constant({ kind: 'close' as const }),
};
