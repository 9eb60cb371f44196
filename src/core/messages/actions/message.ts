import { z } from 'zod';
import type { ActionKind } from '../actionKind';
import { idSchema } from '../bounds';

const messageSchema = () => z.strictObject({ kind: z.literal('message'), id: idSchema() });
export type MessageAction = z.infer<ReturnType<typeof messageSchema>>;

export const messageAction: ActionKind<MessageAction> = {
  kind: 'message',
  schema: messageSchema,
  label: 'Open a message',
  make: () => ({ kind: 'message', id: 'second' }),
  words: ({ id }, { message }) => `opens ${message(id)}`,
  ending: 'message',
  opens: ({ id }) => id,
  example: (fc) => fc.constantFrom('first', 'second').map((id) => ({ kind: 'message' as const, id })),
};
