import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { decrypt, encrypt } from '../connections/secrets';
import type { Queryable } from '../db/queryable';
import { maybeOne } from '../db/queryable';

const PERIOD_S = 30;
const SPARE_CODES = 10;
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';

const boundTo = (memberId: number): string => `second factor of member ${memberId}`;
const totpOf = (secret: string, email = ''): TOTP =>
  new TOTP({ issuer: 'Crindle', label: email, secret: Secret.fromBase32(secret), period: PERIOD_S });

/** A new secret, in base 32, and the address that an authenticator takes it from. */
export function newFactor(email: string): { secret: string; uri: string } {
  const secret = new Secret({ size: 20 }).base32;
  return { secret, uri: totpOf(secret, email).toString() };
}

/** The step that a code is of, now or one before or after; undefined where it is none. `now`: UTC ms. */
export function stepOfCode(secret: string, code: string, now: number): number | undefined {
  if (!/^\d{6}$/.test(code)) return undefined;
  const delta = totpOf(secret).validate({ token: code, timestamp: now, window: 1 });
  return delta === null ? undefined : Math.floor(now / 1000 / PERIOD_S) + delta;
}

const spareHash = (code: string): string => createHash('sha256').update(code).digest('hex');
const newSpareCode = (): string =>
  Array.from(randomBytes(12), (byte) => LETTERS[byte % LETTERS.length])
    .join('')
    .replace(/(.{4})(?=.)/g, '$1-');

/** From now on a code is asked for. Gives the spare codes: they are seen once. @throws NoSecretKey */
export async function setFactor(
  db: Queryable,
  { memberId, secret, step }: { memberId: number; secret: string; step: number },
): Promise<string[]> {
  const codes = Array.from({ length: SPARE_CODES }, newSpareCode);
  await db.query(`update member set totp = $2, totp_step = $3, spare_codes = $4, totp_at = now() where id = $1`, [
    memberId,
    encrypt(secret, boundTo(memberId)),
    step,
    codes.map(spareHash),
  ]);
  return codes;
}

export async function dropFactor(db: Queryable, memberId: number): Promise<void> {
  await db.query(`update member set totp = null, totp_step = 0, spare_codes = '{}', totp_at = null where id = $1`, [memberId]);
}

const NEW_DAYS = 7;

/**
 * Whoever chooses another password by a link in their mail gets rid of a second step that was set up in the week before: somebody who had the old password
 * may have set it up, and its owner was told by mail. An older one stays. Gives whether there was such a one.
 */
export async function dropNewFactor(db: Queryable, memberId: number): Promise<boolean> {
  const dropped = await db.query(
    `update member set totp = null, totp_step = 0, spare_codes = '{}', totp_at = null
      where id = $1 and totp is not null and totp_at > now() - make_interval(days => ${NEW_DAYS})`,
    [memberId],
  );
  return dropped.rowCount === 1;
}

/** Whether a code of theirs is right: of the authenticator, each once, or a spare one, each once. `now`: UTC ms. @throws NoSecretKey */
export async function isCode(db: Queryable, { memberId, code, now }: { memberId: number; code: string; now: number }): Promise<boolean> {
  const member = await maybeOne<{ totp: Buffer | null; spare: string[] }>(
    db,
    `select totp, spare_codes as spare from member where id = $1`,
    [memberId],
  );
  if (!member?.totp) return false;
  const given = code.trim().toLowerCase().replace(/\s/g, '');
  const step = stepOfCode(decrypt(member.totp, boundTo(memberId)), given, now);
  if (step !== undefined)
    return (await db.query(`update member set totp_step = $2 where id = $1 and totp_step < $2`, [memberId, step])).rowCount === 1;
  const hash = Buffer.from(spareHash(given));
  const spare = member.spare.find((one) => timingSafeEqual(Buffer.from(one), hash));
  if (spare === undefined) return false;
  const taken = await db.query(`update member set spare_codes = array_remove(spare_codes, $2) where id = $1 and $2 = any(spare_codes)`, [
    memberId,
    spare,
  ]);
  return taken.rowCount === 1;
}
