import { z } from 'zod';
import { idSchema } from '../messages/bounds';
import type { Message } from '../messages/message';
import { messageSchema } from '../messages/message';

export const MOST_MESSAGES = 40;

/** The messages of a campaign and where they begin. Which leads to which stands in the actions of their buttons and answers. */
export const flowSchema = () =>
  z
    .strictObject({ version: z.literal(1).optional(), start: idSchema(), messages: z.array(messageSchema()).min(1).max(MOST_MESSAGES) })
    .refine(({ messages }) => new Set(messages.map(({ id }) => id)).size === messages.length, {
      error: 'messages.sameId',
      path: ['messages'],
    })
    .refine(({ start, messages }) => messages.some(({ id }) => id === start), { error: 'flow.start', path: ['start'] });
export type Flow = z.infer<ReturnType<typeof flowSchema>>;

export const messageOf = ({ messages }: Flow, id: string): Message | undefined => messages.find((message) => message.id === id);

/** The first message; the schema sees to it that there is one. */
export function startOf(flow: Flow): Message {
  const message = messageOf(flow, flow.start);
  if (!message) throw new Error(`The flow starts with ${flow.start}, which is none of its messages`);
  return message;
}
