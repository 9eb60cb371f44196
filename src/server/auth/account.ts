import type pg from 'pg';
import type { Member } from '../db/members';
import { endSessions, findPassword, setPassword } from '../db/members';
import { withTransaction } from '../db/pool';
import { Refused } from '../http/refused';
import { plainHtml } from '../mail/html';
import { canMail, sendMail } from '../mail/mailer';
import { forgetAttempt, noteAttempt } from './attempts';
import { hashPassword, isPassword, TooManyAtOnce, weakness } from './password';
import { dropFactor, newFactor, setFactor, stepOfCode } from './secondFactor';
import { studioUrl } from './reset';
import { noteSecurity } from './securityLog';
import { sessionsEnded } from './sessionEnds';
import { findTicket, makeTicket, takeTicket } from './tickets';

type Who = Pick<Member, 'id' | 'email' | 'name'>;
const FACTOR_MINUTES = 15;

/** Whoever is signed in says their password once more: what they leave open is not enough for this. @throws Refused */
async function again(db: pg.Pool, { member, password, address }: { member: Who; password: string; address: string }): Promise<void> {
  const attempt = await noteAttempt(db, { email: member.email, address, isKnown: true });
  if (attempt.wait !== undefined)
    throw new Refused(429, 'password.throttled', `Too many tries. Wait ${attempt.wait} seconds, then try again.`);
  const isRight = await isPassword(password, (await findPassword(db, member.email))?.passwordHash).catch((cause: unknown) => {
    throw cause instanceof TooManyAtOnce
      ? new Refused(503, 'password.busy', 'Many are signing in just now. Try again in a moment.')
      : cause;
  });
  noteSecurity({ what: 'password', result: isRight ? 'right' : 'wrong', who: member.id, address });
  if (!isRight) throw new Refused(403, 'password.wrong', 'password: it is not yours');
  await forgetAttempt(db, attempt.id);
}

/** All other sessions of theirs end. @throws Refused */
export async function changePassword(
  db: pg.Pool,
  { member, session, address, password, next }: { member: Who; session: Buffer; address: string; password: string; next: string },
): Promise<void> {
  const weak = weakness(next, [member.email, member.name]);
  if (weak !== undefined) throw new Refused(422, 'password.weak', `next: ${weak}`);
  await again(db, { member, password, address });
  const passwordHash = await hashPassword(next);
  const ended = await withTransaction(db, async (tx) => {
    await setPassword(tx, member.id, passwordHash);
    return endSessions(tx, member.id, { but: session });
  });
  sessionsEnded(ended);
  noteSecurity({ what: 'password', result: 'changed', who: member.id, address });
}

/** @throws Refused */
export async function beginFactor(
  db: pg.Pool,
  given: { member: Who; password: string; address: string },
): Promise<{ ticket: string; secret: string; uri: string }> {
  await again(db, given);
  const { secret, uri } = newFactor(given.member.email);
  return {
    ticket: await makeTicket(db, { kind: 'factor', memberId: given.member.id, data: { secret }, minutes: FACTOR_MINUTES }),
    secret,
    uri,
  };
}

/** Where somebody else has done it, its owner hears of it. Not waited for: it is done, whatever a mail server says. */
function tellOfFactor({ id, email, name }: Who, now: number): void {
  if (!canMail()) return;
  const text = `${name}, a second step was set up for your account in Crindle: from now on a code is asked for after the password.\n\nIf it was not you, somebody knows your password: choose another one within a week, and the second step goes with it:\n\n${studioUrl('/forgot')}`;
  const mail = { id: `factor.${id}.${now}`, to: email, subject: 'A second step was set up for your account', text, html: plainHtml(text) };
  sendMail(mail).catch((cause: unknown) => console.error('second step:', cause));
}

/** Gives the spare codes. `now`: UTC ms. @throws Refused */
export async function finishFactor(
  db: pg.Pool,
  { member, ticket, code, now }: { member: Who; ticket: string; code: string; now: number },
): Promise<string[]> {
  const begun = await findTicket(db, 'factor', ticket);
  if (begun?.memberId !== member.id) throw new Refused(409, 'factor.over', 'That took too long: begin again');
  const secret = String(begun.data['secret']);
  const step = stepOfCode(secret, code.replace(/\s/g, ''), now);
  if (step === undefined)
    throw new Refused(422, 'factor.code', 'code: it is not the one that is shown now; a new one comes every half minute');
  const codes = await withTransaction(db, async (tx) => {
    if (!(await takeTicket(tx, 'factor', ticket))) throw new Refused(409, 'factor.over', 'That took too long: begin again');
    noteSecurity({ what: 'second factor', result: 'on', who: member.id });
    return setFactor(tx, { memberId: member.id, secret, step });
  });
  tellOfFactor(member, now);
  return codes;
}

/** @throws Refused */
export async function endFactor(db: pg.Pool, given: { member: Who; password: string; address: string }): Promise<void> {
  await again(db, given);
  await dropFactor(db, given.member.id);
  noteSecurity({ what: 'second factor', result: 'off', who: given.member.id, address: given.address });
}
