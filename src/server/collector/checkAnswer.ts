import domains from 'disposable-email-domains';
import wildcards from 'disposable-email-domains/wildcard.json' with { type: 'json' };
import type { CountryCode } from 'libphonenumber-js';
import { isSupportedCountry, isValidPhoneNumber } from 'libphonenumber-js';
import validator from 'validator';
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

let throwaway: ReadonlySet<string> | undefined;

/** Whether an email can be written to and is not of a kind that is thrown away after minutes; whether a phone number can be rung. */
export function isGoodAnswer(check: AnswerCheck): boolean {
  if (check.kind === 'phone') {
    const { country } = check;
    return isValidPhoneNumber(check.value, country !== undefined && isSupportedCountry(country) ? (country as CountryCode) : undefined);
  }
  const value = check.value.trim();
  return validator.isEmail(value) && !isThrowaway(value.slice(value.lastIndexOf('@') + 1).toLowerCase());
}

function isThrowaway(host: string): boolean {
  throwaway ??= new Set(domains);
  return throwaway.has(host) || wildcards.some((domain) => host === domain || host.endsWith(`.${domain}`));
}
