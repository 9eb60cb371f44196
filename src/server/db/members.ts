import type { Queryable } from './queryable';
import { many, maybeOne, one } from './queryable';

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

/** The signed-in member with the site that the session is at, or their first. */
export async function findMemberBySession(db: Queryable, tokenHash: Buffer): Promise<Member | undefined> {
  return maybeOne<Member & Record<string, unknown>>(
    db,
    `select member.id, member.email, member.name, membership.site_id as "siteId", membership.role
       from session
       join member on member.id = session.member_id
       join membership on membership.member_id = member.id
      where session.token_hash = $1 and session.expires_at > now()
      order by coalesce(membership.site_id = session.site_id, false) desc, membership.site_id limit 1`,
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

export interface OwnSite {
  readonly id: number;
  readonly name: string;
  readonly key: string;
  readonly role: Role;
}

/** A member's sites, by name. */
export async function listSitesOf(db: Queryable, memberId: number): Promise<OwnSite[]> {
  return many<OwnSite & Record<string, unknown>>(
    db,
    `select site.id, site.name, site.key, membership.role from membership join site on site.id = membership.site_id
      where member_id = $1 order by lower(site.name), site.id`,
    [memberId],
  );
}

/** Goes on at another site; false where it is none of the member's. */
export async function chooseSite(db: Queryable, { tokenHash, siteId }: { tokenHash: Buffer; siteId: number }): Promise<boolean> {
  return (
    (await maybeOne(
      db,
      `update session set site_id = $2 where token_hash = $1
          and exists (select from membership where member_id = session.member_id and membership.site_id = $2) returning site_id`,
      [tokenHash, siteId],
    )) !== undefined
  );
}

/** Is there nobody yet who could sign in? */
export async function isFirstStart(db: Queryable): Promise<boolean> {
  return !(await one<{ some: boolean }>(db, `select exists (select from member) as some`)).some;
}
