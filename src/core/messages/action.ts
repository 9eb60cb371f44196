import { z } from 'zod';

const text = (most: number) => z.string().min(1).max(most);
/** Http(s), or from the root of the site, so that no script can hide in an address. */
export const addressSchema = () =>
  z
    .string()
    .max(2000)
    .regex(/^(https?:\/\/|\/(?!\/))/i);
export const idSchema = () => z.string().regex(/^[a-z0-9][a-z0-9_-]{0,59}$/i);
const plain = () => z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]);

/**
 * What a button, an answer or a quiet action does. `message` opens another message of the flow where this one stands
 * (a chat message at its own corner); `end` closes and ends the campaign's work in this page view.
 */
export const actionSchema = () =>
  z.discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('message'), id: idSchema() }),
    z.strictObject({ kind: z.literal('page'), url: addressSchema(), newTab: z.boolean().optional() }),
    z.strictObject({ kind: z.literal('phone'), number: z.string().regex(/^\+?[0-9 ()./-]{3,30}$/) }),
    z.strictObject({ kind: z.literal('calendar'), url: addressSchema() }),
    z.strictObject({ kind: z.literal('report'), event: text(200), props: z.record(text(200), plain()).optional() }),
    z.strictObject({ kind: z.literal('tag'), tag: text(100) }),
    z.strictObject({ kind: z.literal('score'), points: z.number().min(-1000).max(1000) }),
    z.strictObject({ kind: z.literal('close') }),
    z.strictObject({ kind: z.literal('end') }),
  ]);
export type Action = z.infer<ReturnType<typeof actionSchema>>;

export const MOST_ACTIONS = 10;
export const actionsSchema = () => z.array(actionSchema()).max(MOST_ACTIONS);

/** Do these actions take the visitor away from the message they stand in? */
export const leads = (does: readonly Action[]): boolean =>
  does.some(({ kind }) => kind === 'message' || kind === 'close' || kind === 'end' || kind === 'page');
