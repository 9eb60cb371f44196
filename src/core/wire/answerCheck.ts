import { z } from 'zod';

/** What a page asks of an answer before it is sent. */
export const answerCheckSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('email'), value: z.string().max(400) }),
  /** `country`: where a number without a country's code is from; ISO 3166-1, two letters. */
  z.strictObject({
    kind: z.literal('phone'),
    value: z.string().max(400),
    country: z
      .string()
      .regex(/^[A-Z]{2}$/)
      .optional(),
  }),
]);
export type AnswerCheck = z.infer<typeof answerCheckSchema>;
