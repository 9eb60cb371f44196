import { randomBytes } from 'node:crypto';
import type pg from 'pg';
import type { Role } from '../db/members';
import { createMember, findPassword, joinSite } from '../db/members';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { asUuid, many, maybeOne } from '../db/queryable';
import { plainHtml } from '../mail/html';
import type { Mail } from '../mail/mailer';
import { forgetAttempt, noteAttempt } from './attempts';
import { hashPassword, isPassword, weakness } from './password';
import { studioUrl } from './reset';
import { tokenHash } from './token';

const DAYS = 7;

export interface Invitation {
  readonly id: string;
  readonly email: string;
  readonly role: Role;
  readonly by: string;
  readonly expiresAt: Date;
}

export const listInvitations = (db: Queryable, siteId: number): Promise<Invitation[]> =>
  many<Invitation & Record<string, unknown>>(
    db,
    `select id, email, role, by, expires_at as "expiresAt" from invitation where site_id = $1 and expires_at > now() order by made_at desc`,
    [siteId],
  );

/**
 * Invites somebody, or once more with another role: the last link alone is good. `isHanded`: whoever invites has the link as well, so that it proves nobody's
 * email. Undefined where they are of the site already.
 */
export async function invite(
  db: Queryable,
  siteId: number,
  { email, role, by, isHanded }: { email: string; role: Role; by: string; isHanded: boolean },
): Promise<string | undefined> {
  const isIn = await maybeOne(
    db,
    `select 1 as found from membership join member on member.id = member_id where site_id = $1 and email = lower($2)`,
    [siteId, email],
  );
  if (isIn) return undefined;
  const token = randomBytes(32).toString('base64url');
  await db.query(
    `insert into invitation (site_id, email, role, token_hash, by, expires_at, is_handed) values ($1, lower($2), $3, $4, $5, now() + make_interval(days => $6), $7)
     on conflict (site_id, email) do update set role = $3, token_hash = $4, by = $5, made_at = now(), expires_at = excluded.expires_at, is_handed = $7`,
    [siteId, email, role, tokenHash(token), by, DAYS, isHanded],
  );
  return studioUrl(`/join?ticket=${token}`);
}

export const invitationMail = ({ email, site, by, link }: { email: string; site: string; by: string; link: string }): Mail => {
  const text = `${by} invites you to ${site} in Crindle. The link is good for a week:\n\n${link}`;
  return {
    id: `invited.${tokenHash(link).toString('hex').slice(0, 24)}`,
    to: email,
    subject: `${by} invites you to ${site}`,
    text,
    html: plainHtml(text),
  };
};

export const dropInvitation = async (db: Queryable, siteId: number, id: string): Promise<boolean> =>
  (await db.query(`delete from invitation where site_id = $1 and id = ${asUuid('$2')}`, [siteId, id])).rowCount === 1;

/** Whom a link invites and whereto; `hasAccount`: with this email they sign in already. */
export const findInvitation = (
  db: Queryable,
  token: string,
): Promise<{ email: string; role: Role; site: string; hasAccount: boolean } | undefined> =>
  maybeOne<{ email: string; role: Role; site: string; hasAccount: boolean }>(
    db,
    `select email, role, site.name as site, exists (select from member where member.email = invitation.email) as "hasAccount"
       from invitation join site on site.id = site_id where token_hash = $1 and expires_at > now()`,
    [tokenHash(token)],
  );

/**
 * Takes an invitation: whoever has an account with that email says its password, whoever has none chooses one. Gives their number, or what is wrong in words.
 * Tries count as those of signing in do: a link is no way round their limits.
 */
export async function acceptInvitation(
  pool: pg.Pool,
  { token, name, password, address }: { token: string; name: string; password: string; address: string },
): Promise<{ readonly memberId: number; readonly isNew: boolean; readonly siteId: number } | { readonly error: string }> {
  const over = { error: 'This link is over, or was used before. Ask for another one.' };
  const invited = await findInvitation(pool, token);
  if (!invited) return over;
  const known = await findPassword(pool, invited.email);
  const attempt = await noteAttempt(pool, { email: invited.email, address, isKnown: !known });
  if (attempt.wait !== undefined) return { error: `Too many tries. Wait ${attempt.wait} seconds, then try again.` };
  let passwordHash = '';
  if (known) {
    if (!(await isPassword(password, known.passwordHash))) return { error: 'Password: it is not the one of your account' };
  } else {
    if (!name || name.length > 200) return { error: 'Your name: expected one of 1 to 200 letters' };
    const weak = weakness(password, [invited.email, name]);
    if (weak !== undefined) return { error: `Password: ${weak}` };
    passwordHash = await hashPassword(password);
  }
  await forgetAttempt(pool, attempt.id);
  return withTransaction(pool, async (tx) => {
    const taken = await maybeOne<{ site: number; role: Role; isHanded: boolean }>(
      tx,
      `delete from invitation where token_hash = $1 and expires_at > now() returning site_id as site, role, is_handed as "isHanded"`,
      [tokenHash(token)],
    );
    if (!taken) return over;
    const memberId = known?.id ?? (await createMember(tx, { email: invited.email, name, passwordHash, isEmailProven: !taken.isHanded }));
    await joinSite(tx, { siteId: taken.site, memberId, role: taken.role });
    return { memberId, isNew: !known, siteId: taken.site };
  });
}
