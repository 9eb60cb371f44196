import { createHmac, timingSafeEqual } from 'node:crypto';

export const KNOWN_COOKIE = 'crindle_known';

/** Says that a browser has signed in with an email: signed, and good for as long as the password is the same. */
export function knownMark(email: string, passwordHash: string, key = process.env['CRINDLE_SECRET_KEY'] ?? ''): string | undefined {
  if (key === '') return undefined;
  return createHmac('sha256', key).update(`known browser ${email.toLowerCase()} ${passwordHash}`).digest('base64url');
}

export function isKnownMark(mark: string | undefined, email: string, passwordHash: string | undefined): boolean {
  const expected = passwordHash === undefined ? undefined : knownMark(email, passwordHash);
  if (!mark || !expected) return false;
  const [met, wanted] = [Buffer.from(mark), Buffer.from(expected)];
  return met.length === wanted.length && timingSafeEqual(met, wanted);
}
