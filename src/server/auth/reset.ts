import type pg from 'pg';
import { endSessions, findPassword, setPassword } from '../db/members';
import { withTransaction } from '../db/pool';
import { maybeOne } from '../db/queryable';
import { plainHtml } from '../mail/html';
import { sendMail } from '../mail/mailer';
import { noteAttempt } from './attempts';
import { hashPassword, weakness } from './password';
import { dropNewFactor } from './secondFactor';
import { noteSecurity } from './securityLog';
import { sessionsEnded } from './sessionEnds';
import { findTicket, makeTicket, takeTicket } from './tickets';

const MINUTES = 60;

/** Where the studio is, as links in mails say it. */
export const studioUrl = (path: string): string => new URL(path, process.env['CRINDLE_STUDIO'] ?? 'http://127.0.0.1:4700').href;

/** A link to choose a new password with. */
export const resetLink = async (db: pg.Pool, memberId: number): Promise<string> =>
  studioUrl(`/reset?ticket=${await makeTicket(db, { kind: 'reset', memberId, minutes: MINUTES })}`);

/** Mails a link to whoever has that email; says to nobody whether anybody has. */
export async function forgotPassword(db: pg.Pool, { email, address }: { email: string; address: string }): Promise<void> {
  // Asked for as often as passwords are tried, and no oftener: nobody's mailbox is filled by it.
  const { wait } = await noteAttempt(db, { email: `reset of ${email}`, address, isKnown: false });
  const found = wait === undefined ? await findPassword(db, email) : undefined;
  noteSecurity({ what: 'reset', result: found ? 'asked' : wait === undefined ? 'unknown' : 'throttled', who: email, address });
  if (!found) return;
  const link = await resetLink(db, found.id);
  const text = `${found.name}, somebody asked for a new password for you in Crindle. If it was you, choose one within an hour:\n\n${link}\n\nIf it was not, nothing has changed.`;
  // Not waited for: how long it takes says nothing of whether there is such an account.
  sendMail({ id: `reset.${found.id}.${Date.now()}`, to: email, subject: 'A new password for Crindle', text, html: plainHtml(text) }).catch(
    (cause: unknown) => console.error('reset:', cause),
  );
}

/** What is wrong with it, in words; undefined where it is set. */
export async function resetPassword(db: pg.Pool, { token, password }: { token: string; password: string }): Promise<string | undefined> {
  const over = 'This link is over, or was used before. Ask for another one.';
  const ticket = await findTicket(db, 'reset', token);
  if (!ticket?.memberId) return over;
  const member = await maybeOne<{ email: string; name: string }>(db, `select email, name from member where id = $1`, [ticket.memberId]);
  const weak = weakness(password, [member?.email ?? '', member?.name ?? '']);
  if (weak !== undefined) return `Password: ${weak}`;
  const passwordHash = await hashPassword(password);
  const ended = await withTransaction(db, async (tx) => {
    const taken = await takeTicket(tx, 'reset', token);
    if (!taken?.memberId) return undefined;
    await setPassword(tx, taken.memberId, passwordHash);
    // The link came by mail.
    await tx.query(`update member set is_email_proven = true where id = $1 and not is_email_proven`, [taken.memberId]);
    if (await dropNewFactor(tx, taken.memberId)) noteSecurity({ what: 'second factor', result: 'off', who: taken.memberId });
    return endSessions(tx, taken.memberId, { but: null });
  });
  if (!ended) return over;
  sessionsEnded(ended);
  noteSecurity({ what: 'reset', result: 'done', who: ticket.memberId });
  return undefined;
}
