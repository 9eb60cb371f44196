import type { Queryable } from './queryable';
import { maybeOne, one } from './queryable';

export const ROLES = ['owner', 'editor', 'agent', 'viewer'] as const;
export type Role = (typeof ROLES)[number];

export interface Member {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  readonly siteId: number;
  readonly role: Role;
}

export async function createMember(
  db: Queryable,
  { email, name, passwordHash }: { email: string; name: string; passwordHash: string },
): Promise<number> {
  const { id } = await one<{ id: number }>(db, `insert into member (email, name, password_hash) values (lower($1), $2, $3) returning id`, [
    email,
    name,
    passwordHash,
  ]);
  return id;
}

export async function joinSite(db: Queryable, { siteId, memberId, role }: { siteId: number; memberId: number; role: Role }): Promise<void> {
  await db.query(`insert into membership (site_id, member_id, role) values ($1, $2, $3)`, [siteId, memberId, role]);
}

export async function findPassword(db: Queryable, email: string): Promise<{ id: number; passwordHash: string } | undefined> {
  return maybeOne(db, `select id, password_hash as "passwordHash" from member where email = lower($1)`, [email]);
}

export async function openSession(
  db: Queryable,
  { tokenHash, memberId, days }: { tokenHash: Buffer; memberId: number; days: number },
): Promise<void> {
  await db.query(`insert into session (token_hash, member_id, expires_at) values ($1, $2, now() + make_interval(days => $3))`, [
    tokenHash,
    memberId,
    days,
  ]);
  await db.query(`delete from session where expires_at < now()`);
}

export async function closeSession(db: Queryable, tokenHash: Buffer): Promise<void> {
  await db.query(`delete from session where token_hash = $1`, [tokenHash]);
}

/** The signed-in member with their first site. */
export async function findMemberBySession(db: Queryable, tokenHash: Buffer): Promise<Member | undefined> {
  return maybeOne<Member & Record<string, unknown>>(
    db,
    `select member.id, member.email, member.name, membership.site_id as "siteId", membership.role
       from session
       join member on member.id = session.member_id
       join membership on membership.member_id = member.id
      where session.token_hash = $1 and session.expires_at > now()
      order by membership.site_id limit 1`,
    [tokenHash],
  );
}

/** How often signing in failed in the last quarter of an hour, the worse of the two subjects. */
export async function countFailures(db: Queryable, subjects: readonly string[]): Promise<number> {
  const { most } = await one<{ most: number }>(
    db,
    `select coalesce(max(times), 0)::int as most from (
       select count(*) as times from sign_in_failure
        where subject = any($1) and at > now() - interval '15 minutes' group by subject) as counted`,
    [subjects],
  );
  return most;
}

export async function noteFailure(db: Queryable, subjects: readonly string[]): Promise<void> {
  await db.query(`insert into sign_in_failure (subject) select unnest($1::text[])`, [subjects]);
  await db.query(`delete from sign_in_failure where at < now() - interval '1 day'`);
}

export async function forgetFailures(db: Queryable, subject: string): Promise<void> {
  await db.query(`delete from sign_in_failure where subject = $1`, [subject]);
}
