import { z } from 'zod';
import type { ActionKind } from '../actionKind';

export const phoneNumberSchema = () => z.string().regex(/^\+?[0-9 ()./-]{3,30}$|^\{site [^{}]{1,80}\}$/i);
const phoneSchema = () => z.strictObject({ kind: z.literal('phone'), number: phoneNumberSchema() });
export type PhoneAction = z.infer<ReturnType<typeof phoneSchema>>;

export const phoneAction: ActionKind<PhoneAction> = {
  kind: 'phone',
  schema: phoneSchema,
  label: 'Ring a number',
  make: () => ({ kind: 'phone', number: '+43 512 000' }),
  words: ({ number }) => `rings ${number}`,
  ending: 'stays',
  example: (fc) => fc.constant({ kind: 'phone' as const, number: '+43 512 000' }),
};
