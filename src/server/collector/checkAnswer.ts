import domains from 'disposable-email-domains/index.js';
import wildcards from 'disposable-email-domains/wildcard.js';
import { isSupportedCountry, isValidPhoneNumber } from 'libphonenumber-js';
import validator from 'validator';
import type { AnswerCheck } from '@/core/wire/answerCheck';

let throwaway: ReadonlySet<string> | undefined;

/** Whether an email can be written to and is not of a kind that is thrown away after minutes; whether a phone number can be rung. */
export function isGoodAnswer(check: AnswerCheck): boolean {
  if (check.kind === 'phone') {
    const { country } = check;
    return isValidPhoneNumber(check.value, country !== undefined && isSupportedCountry(country) ? country : undefined);
  }
  const value = check.value.trim();
  return validator.isEmail(value) && !isThrowaway(value.slice(value.lastIndexOf('@') + 1).toLowerCase());
}

function isThrowaway(host: string): boolean {
  throwaway ??= new Set(domains);
  return throwaway.has(host) || wildcards.some((domain) => host === domain || host.endsWith(`.${domain}`));
}
