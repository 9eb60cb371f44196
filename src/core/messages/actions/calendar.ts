import { z } from 'zod';
import type { ActionKind } from '../actionKind';
import { addressSchema } from '../bounds';

const calendarSchema = () => z.strictObject({ kind: z.literal('calendar'), url: addressSchema() });
export type CalendarAction = z.infer<ReturnType<typeof calendarSchema>>;

export const calendarAction: ActionKind<CalendarAction> = {
  kind: 'calendar',
  schema: calendarSchema,
  label: 'Offer a calendar',
  make: () => ({ kind: 'calendar', url: '/meet' }),
  words: ({ url }) => `offers a time at ${url}`,
  ending: 'stays',
  example: (fc) => fc.constant({ kind: 'calendar' as const, url: '/meet' }),
};
