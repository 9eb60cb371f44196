// What only the browser can tell: its language, cookies, and whether it blocks advertisements.
import { z } from 'zod';
import type { Truth } from '../../rules/truth';
import { quoted, testWords, textHolds, textTestSchema } from '../../rules/valueTest';
import type { Subject } from '../subject';
import { ownValue } from './did';

export const languageSchema = () => z.strictObject({ kind: z.literal('language'), is: z.array(z.string().min(1).max(35)).min(1).max(100) });
export type Language = z.infer<ReturnType<typeof languageSchema>>;
export function languageHolds({ is }: Language, { visitor: { language } }: Subject): Truth {
  if (language === undefined) return null;
  const first = language.toLowerCase();
  return is.some((tag) => first === tag.toLowerCase() || first.startsWith(`${tag.toLowerCase()}-`));
}
export const languageWords = ({ is }: Language): string => `read ${is.join(' or ')}`;

export const cookieSchema = () => z.strictObject({ kind: z.literal('cookie'), name: z.string().min(1).max(200), test: textTestSchema() });
export type Cookie = z.infer<ReturnType<typeof cookieSchema>>;
export function cookieHolds({ name, test }: Cookie, { visitor: { cookies } }: Subject): Truth {
  if (!cookies) return null;
  const value = ownValue(cookies, name);
  return textHolds(typeof value === 'string' ? value : undefined, test);
}
export const cookieWords = ({ name, test }: Cookie): string => `have a cookie ${quoted(name)} that ${testWords(test)}`;

export const adBlockerSchema = () => z.strictObject({ kind: z.literal('adBlocker'), is: z.boolean() });
export type AdBlocker = z.infer<ReturnType<typeof adBlockerSchema>>;
export const adBlockerHolds = ({ is }: AdBlocker, { visitor: { adBlocker } }: Subject): Truth =>
  adBlocker === undefined ? null : adBlocker === is;
export const adBlockerWords = ({ is }: AdBlocker): string => (is ? 'use an ad blocker' : 'use no ad blocker');
