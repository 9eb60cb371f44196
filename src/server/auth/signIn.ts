import { randomBytes } from 'node:crypto';
import type { Queryable } from '../db/queryable';
import { closeSession, findMemberBySession, findPassword, openSession } from '../db/members';
import type { Member } from '../db/members';
import { forgetAttempt, forgetAttemptsOf, noteAttempt, noteCode } from './attempts';
import { isKnownMark, knownMark } from './known';
import { isPassword } from './password';
import { isCode } from './secondFactor';
import { sessionsEnded } from './sessionEnds';
import { makeTicket, takeTicket, tryTicket } from './tickets';
import { tokenHash } from './token';

export const SESSION_DAYS = 30;
const CODE_MINUTES = 5;
const MOST_CODES = 5;

export type SignIn =
  | { readonly kind: 'in'; readonly token: string; readonly mark: string | undefined }
  /** The password is right; a code of the second factor goes with the ticket. */
  | { readonly kind: 'code'; readonly ticket: string }
  | { readonly kind: 'wrong' }
  /** Seconds to wait. */
  | { readonly kind: 'throttled'; readonly wait: number };

export interface From {
  /** The network address that the request came from. */
  readonly address: string;
  /** What the browser calls itself. */
  readonly agent?: string;
}

/** `mark`: what the browser has of an earlier time. @throws TooManyAtOnce */
export async function signIn(
  db: Queryable,
  { email, password, mark, ...from }: From & { email: string; password: string; mark?: string | undefined },
): Promise<SignIn> {
  const found = await findPassword(db, email);
  const attempt = await noteAttempt(db, { email, address: from.address, isKnown: isKnownMark(mark, email, found?.passwordHash) });
  if (attempt.wait !== undefined) return { kind: 'throttled', wait: attempt.wait };
  let isRight: boolean;
  try {
    isRight = await isPassword(password, found?.passwordHash);
  } catch (cause) {
    await forgetAttempt(db, attempt.id);
    throw cause;
  }
  if (!isRight || !found) return { kind: 'wrong' };
  await forgetAttempt(db, attempt.id);
  if (found.hasFactor)
    return { kind: 'code', ticket: await makeTicket(db, { kind: 'code', memberId: found.id, data: { email }, minutes: CODE_MINUTES }) };
  await forgetAttemptsOf(db, { email, address: from.address });
  return { kind: 'in', token: await enter(db, found.id, from), mark: knownMark(email, found.passwordHash) };
}

/**
 * The second step. A ticket is good for five tries in five minutes, and ten wrong codes in an hour are all that is looked at of one member, over all
 * tickets: at the tenth `tell` is whom to tell. `now`: UTC ms.
 */
export async function signInByCode(
  db: Queryable,
  { ticket, code, now, ...from }: From & { ticket: string; code: string; now: number },
): Promise<Exclude<SignIn, { kind: 'wrong' }> | { readonly kind: 'wrong'; readonly tell?: string } | { readonly kind: 'over' }> {
  const half = await tryTicket(db, 'code', ticket, MOST_CODES);
  if (!half?.memberId) return { kind: 'over' };
  const email = String(half.data['email']);
  const attempt = await noteCode(db, half.memberId);
  if (attempt.wait !== undefined) return { kind: 'throttled', wait: attempt.wait };
  if (!(await isCode(db, { memberId: half.memberId, code, now }))) return { kind: 'wrong', ...(attempt.isLast ? { tell: email } : {}) };
  await forgetAttempt(db, attempt.id);
  if (!(await takeTicket(db, 'code', ticket))) return { kind: 'over' };
  await forgetAttemptsOf(db, { email, address: from.address });
  return {
    kind: 'in',
    token: await enter(db, half.memberId, from),
    mark: knownMark(email, (await findPassword(db, email))?.passwordHash ?? ''),
  };
}

/** A session; gives its token, which the browser keeps. */
export async function enter(db: Queryable, memberId: number, { agent = '' }: Pick<From, 'agent'>): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await openSession(db, { tokenHash: tokenHash(token), memberId, days: SESSION_DAYS, agent });
  return token;
}

export async function signOut(db: Queryable, token: string): Promise<void> {
  await closeSession(db, tokenHash(token));
  sessionsEnded([tokenHash(token)]);
}

export const memberOf = (db: Queryable, token: string): Promise<Member | undefined> => findMemberBySession(db, tokenHash(token));
