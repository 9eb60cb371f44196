import { createHash, randomBytes } from 'node:crypto';
import type { Queryable } from '../db/queryable';
import { closeSession, countFailures, findMemberBySession, findPassword, forgetFailures, noteFailure, openSession } from '../db/members';
import type { Member } from '../db/members';
import { isPassword } from './password';

export const SESSION_DAYS = 30;
const MOST_FAILURES = 8;

export type SignIn = { kind: 'in'; token: string } | { kind: 'wrong' } | { kind: 'throttled' };

/** Eight failures within a quarter of an hour, for an email or from an address, close the door for a while. */
export async function signIn(
  db: Queryable,
  { email, password, address }: { email: string; password: string; address: string },
): Promise<SignIn> {
  const subjects = [`email ${email.toLowerCase().slice(0, 200)}`, `address ${address}`];
  if ((await countFailures(db, subjects)) >= MOST_FAILURES) return { kind: 'throttled' };
  const found = await findPassword(db, email);
  if (!(await isPassword(password, found?.passwordHash)) || !found) {
    await noteFailure(db, subjects);
    return { kind: 'wrong' };
  }
  const token = randomBytes(32).toString('base64url');
  await openSession(db, { tokenHash: tokenHash(token), memberId: found.id, days: SESSION_DAYS });
  for (const subject of subjects) await forgetFailures(db, subject);
  return { kind: 'in', token };
}

export const signOut = (db: Queryable, token: string): Promise<void> => closeSession(db, tokenHash(token));
export const memberOf = (db: Queryable, token: string): Promise<Member | undefined> => findMemberBySession(db, tokenHash(token));

export const tokenHash = (token: string): Buffer => createHash('sha256').update(token).digest();
