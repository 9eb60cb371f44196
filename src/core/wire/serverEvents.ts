// Events that a site's own server reports, of somebody who was on the site: purchases made elsewhere, calls, returns.
import { z } from 'zod';

const plainValue = z.union([z.string().max(2000), z.number(), z.boolean(), z.null()]);
const instant = z.union([z.number().int().min(0).max(8.64e15), z.iso.datetime({ offset: true }).transform((text) => Date.parse(text))]);

/** `id` is the reporter's own: the same again is the same event. `at`: UTC ms, or an instant with its zone. Of whom: one of the three. */
export const serverEventSchema = z
  .strictObject({
    id: z.string().min(1).max(200),
    email: z.string().trim().min(3).max(320).optional(),
    customer: z.string().min(1).max(200).optional(),
    browser: z.uuid().optional(),
    event: z.string().min(1).max(200),
    props: z
      .record(z.string().min(1).max(200), plainValue)
      .refine((record) => Object.keys(record).length <= 50, { error: 'values.tooMany' })
      .optional(),
    at: instant,
  })
  .refine(({ email, customer, browser }) => [email, customer, browser].filter((one) => one !== undefined).length === 1, {
    error: 'event.ofOne',
    path: ['email'],
  });
export type ServerEvent = z.infer<typeof serverEventSchema>;

export const MOST_SERVER_EVENTS = 500;
/** Checked one by one, so that a bad one does not take its neighbours with it. */
export const serverEventsSchema = z.strictObject({ events: z.array(z.unknown()).min(1).max(MOST_SERVER_EVENTS) });
