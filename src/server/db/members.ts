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
  { email, name, passwordHash, isEmailProven = true }: { email: string; name: string; passwordHash: string; isEmailProven?: boolean },
): Promise<number> {
  const { id } = await one<{ id: number }>(
    db,
    `insert into member (email, name, password_hash, is_email_proven) values (lower($1), $2, $3, $4) returning id`,
    [email, name, passwordHash, isEmailProven],
  );
  return id;
}

export async function joinSite(db: Queryable, { siteId, memberId, role }: { siteId: number; memberId: number; role: Role }): Promise<void> {
  await db.query(`insert into membership (site_id, member_id, role) values ($1, $2, $3)`, [siteId, memberId, role]);
}

export async function findPassword(
  db: Queryable,
  email: string,
): Promise<{ id: number; name: string; passwordHash: string; hasFactor: boolean } | undefined> {
  return maybeOne(
    db,
    `select id, name, password_hash as "passwordHash", totp is not null as "hasFactor" from member where email = lower($1)`,
    [email],
  );
}

export async function openSession(
  db: Queryable,
  { tokenHash, memberId, days, agent = '' }: { tokenHash: Buffer; memberId: number; days: number; agent?: string },
): Promise<void> {
  await db.query(
    `insert into session (token_hash, member_id, expires_at, agent) values ($1, $2, now() + make_interval(days => $3), left($4, 300))`,
    [tokenHash, memberId, days, agent],
  );
  await db.query(`delete from session where expires_at < now()`);
}

export async function closeSession(db: Queryable, tokenHash: Buffer): Promise<void> {
  await db.query(`delete from session where token_hash = $1`, [tokenHash]);
}

/** The signed-in member with the site that the session is at, or their first. */
export async function findMemberBySession(db: Queryable, tokenHash: Buffer): Promise<Member | undefined> {
  return maybeOne<Member & Record<string, unknown>>(
    db,
    `with seen as (
       update session set seen_at = now() where token_hash = $1 and seen_at < now() - interval '5 minutes')
     select member.id, member.email, member.name, membership.site_id as "siteId", membership.role
       from session
       join member on member.id = session.member_id
       join membership on membership.member_id = member.id
      where session.token_hash = $1 and session.expires_at > now()
      order by coalesce(membership.site_id = session.site_id, false) desc, membership.site_id limit 1`,
    [tokenHash],
  );
}

/** An open session of a member, as they see it. */
export interface OpenSession {
  /** Not the token: the beginning of what is kept of it. */
  readonly id: string;
  readonly agent: string;
  readonly since: Date;
  readonly seenAt: Date;
  readonly isThis: boolean;
}

export const listSessions = (db: Queryable, memberId: number, current: Buffer): Promise<OpenSession[]> =>
  many<OpenSession & Record<string, unknown>>(
    db,
    `select left(encode(token_hash, 'hex'), 16) as id, agent, created_at as since, seen_at as "seenAt", token_hash = $2 as "isThis" from session
      where member_id = $1 and expires_at > now() order by token_hash = $2 desc, seen_at desc limit 100`,
    [memberId, current],
  );

/** Ends sessions of a member: the one of that id, or with `but` all others. Gives their hashes. */
export async function endSessions(
  db: Queryable,
  memberId: number,
  which: { readonly id: string } | { readonly but: Buffer | null },
): Promise<Buffer[]> {
  const [where, value] =
    'id' in which ? [`left(encode(token_hash, 'hex'), 16) = $2`, which.id] : [`token_hash is distinct from $2::bytea`, which.but];
  return (
    await many<{ hash: Buffer }>(db, `delete from session where member_id = $1 and ${where} returning token_hash as hash`, [
      memberId,
      value,
    ])
  ).map(({ hash }) => hash);
}

export async function setPassword(db: Queryable, memberId: number, passwordHash: string): Promise<void> {
  await db.query(`update member set password_hash = $2 where id = $1`, [memberId, passwordHash]);
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

/** Somebody has to own the site. */
export class LastOwner extends Error {}

export interface SiteMember {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly role: Role;
  /** Their email is known to be theirs. */
  readonly isEmailProven: boolean;
  readonly hasFactor: boolean;
  readonly seenAt: Date | null;
}

export const listMembers = (db: Queryable, siteId: number): Promise<SiteMember[]> =>
  many<SiteMember & Record<string, unknown>>(
    db,
    `select member.id, name, email, role, is_email_proven as "isEmailProven", totp is not null as "hasFactor", (select max(seen_at) from session where member_id = member.id) as "seenAt"
       from membership join member on member.id = member_id where site_id = $1 order by lower(name), member.id`,
    [siteId],
  );

/** Those who could be the last owner wait for one another. @throws LastOwner */
async function holdOwners(tx: Queryable, siteId: number, but: number): Promise<void> {
  const owners = await many<{ id: number }>(
    tx,
    `select member_id as id from membership where site_id = $1 and role = 'owner' order by member_id for update`,
    [siteId],
  );
  if (owners.length === 1 && owners[0]?.id === but) throw new LastOwner('The last owner stays one');
}

/** Gives the member's name; undefined where they are not of the site. In a transaction. @throws LastOwner */
export async function changeRole(tx: Queryable, siteId: number, memberId: number, role: Role): Promise<string | undefined> {
  if (role !== 'owner') await holdOwners(tx, siteId, memberId);
  return (
    await maybeOne<{ name: string }>(
      tx,
      `update membership set role = $3 from member where site_id = $1 and member_id = $2 and member.id = member_id returning name`,
      [siteId, memberId, role],
    )
  )?.name;
}

/** Gives the member's name; undefined where they are not of the site. In a transaction. @throws LastOwner */
export async function leaveSite(tx: Queryable, siteId: number, memberId: number): Promise<string | undefined> {
  await holdOwners(tx, siteId, memberId);
  return (
    await maybeOne<{ name: string }>(
      tx,
      `delete from membership using member where site_id = $1 and member_id = $2 and member.id = member_id returning name`,
      [siteId, memberId],
    )
  )?.name;
}

/** Whether a code is asked of them, and how many spare ones they have left. */
export const factorOf = (db: Queryable, memberId: number): Promise<{ hasFactor: boolean; spareCodes: number }> =>
  one<{ hasFactor: boolean; spareCodes: number }>(
    db,
    `select totp is not null as "hasFactor", cardinality(spare_codes)::int as "spareCodes" from member where id = $1`,
    [memberId],
  );

export async function renameMember(db: Queryable, memberId: number, name: string): Promise<void> {
  await db.query(`update member set name = $2 where id = $1`, [memberId, name]);
}

/** Is there nobody yet who could sign in? */
export async function isFirstStart(db: Queryable): Promise<boolean> {
  return !(await one<{ some: boolean }>(db, `select exists (select from member) as some`)).some;
}
