import type { ConnectionKind } from '@/core/connections/kinds';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';
import { mayBy } from './saying';

/** A segment that a connection has, too, and how far that has got. */
export interface KeptSegment {
  readonly id: string;
  readonly segment: string;
  /** Null where it was deleted. */
  readonly segmentName: string | null;
  readonly connection: string;
  readonly connectionName: string;
  readonly kind: ConnectionKind;
  readonly isEnding: boolean;
  readonly doneAt: Date | null;
  /** Why it could not be compared the last time. */
  readonly note: string;
  /** In all, since it is kept. */
  readonly joined: number;
  readonly gone: number;
  /** Who is there now, waits to join or leave, and could not be told. */
  readonly there: number;
  readonly waiting: number;
  readonly failed: number;
}

/** Of `kept_member`: not (certainly) where they are wanted. */
export const IS_OPEN = `there <> case when wanted then 'yes' else 'no' end`;

/** Of a segment, of a connection, or of all; by names. */
export const listKept = (
  db: Queryable,
  siteId: number,
  { segment, connection }: { segment?: string; connection?: string } = {},
): Promise<KeptSegment[]> =>
  many<KeptSegment & Record<string, unknown>>(
    db,
    `select kept_segment.id, segment_id as segment, segment.name as "segmentName", connection_id as connection, connection.name as "connectionName", kind,
            is_ending as "isEnding", done_at as "doneAt", note, joined::float8 as joined, gone::float8 as gone, came.*
       from kept_segment join connection on connection.site_id = $1 and connection.id = connection_id
       left join segment on segment.site_id = $1 and segment.id = segment_id
       cross join lateral (select count(*) filter (where there = 'yes')::int as there, count(*) filter (where ${IS_OPEN} and not failed)::int as waiting,
                                  count(*) filter (where failed)::int as failed
                             from kept_member where kept_member.site_id = $1 and kept_id = kept_segment.id) as came
      where kept_segment.site_id = $1 and ($2::text is null or segment_id = $2) and ($3::text is null or connection_id = $3)
      order by lower(segment.name), lower(connection.name), kept_segment.id`,
    [siteId, segment ?? null, connection ?? null],
  );

/** From now on; one that was ending goes on. */
export async function keepSegment(
  db: Queryable,
  siteId: number,
  { id, segment, connection }: { id: string; segment: string; connection: string },
): Promise<void> {
  await db.query(
    `insert into kept_segment (site_id, id, segment_id, connection_id)
     select $1, $2, $3, $4 where exists (select from segment where site_id = $1 and segment.id = $3)
     on conflict (site_id, segment_id, connection_id) do update set is_ending = false, next_at = now()`,
    [siteId, id, segment, connection],
  );
}

/** Everybody is taken out there, and then it is over. */
export async function endKept(
  db: Queryable,
  siteId: number,
  { segment, connection }: { segment: string; connection: string },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update kept_segment set is_ending = true, next_at = now() where site_id = $1 and segment_id = $2 and connection_id = $3`,
    [siteId, segment, connection],
  );
  return rowCount === 1;
}

/** Compared at once instead of when it is due: a segment, or all. */
export async function compareNow(db: Queryable, siteId: number, { segment }: { segment?: string } = {}): Promise<number> {
  const { rowCount } = await db.query(
    `update kept_segment set next_at = now() where site_id = $1 and ($2::text is null or segment_id = $2)`,
    [siteId, segment ?? null],
  );
  return rowCount ?? 0;
}

/** Whoever waits to join or leave at a connection, or could not be told, is told at once. How many. */
export async function membersAgain(db: Queryable, siteId: number, connection: string): Promise<number> {
  const { rowCount } = await db.query(
    `update kept_member set failed = false, tries = 0, made_at = now(), next_at = now()
      where site_id = $1 and ${IS_OPEN} and kept_id in (select id from kept_segment where site_id = $1 and connection_id = $2)`,
    [siteId, connection],
  );
  return rowCount ?? 0;
}

export interface OpenMember {
  readonly email: string;
  readonly segment: string | null;
  readonly wanted: boolean;
  readonly failed: boolean;
  readonly tries: number;
  readonly nextAt: Date;
  readonly reason: string;
}

const MOST_LISTED = 200;

/** Who waits to join or leave at a connection, or could not be told: those who could not first. */
export const listOpenMembers = (db: Queryable, siteId: number, connection: string): Promise<OpenMember[]> =>
  many<OpenMember & Record<string, unknown>>(
    db,
    `select email, segment.name as segment, wanted, failed, tries, kept_member.next_at as "nextAt", reason
       from kept_segment join kept_member on kept_member.site_id = $1 and kept_id = kept_segment.id
       left join segment on segment.site_id = $1 and segment.id = segment_id
      where kept_segment.site_id = $1 and connection_id = $2 and ${IS_OPEN}
      order by failed desc, kept_member.next_at, email limit ${MOST_LISTED}`,
    [siteId, connection],
  );

/** Who could agree to be sent on: visitors of an email that a lead agreed with, by that email in lower case. */
export const agreedVisitors = (db: Queryable, siteId: number): Promise<{ email: string; visitor: number }[]> =>
  many<{ email: string; visitor: number }>(
    db,
    `with agreed as (
       select lower(email) as email, array_agg(distinct visitor_id) as visitors from lead
        where site_id = $1 and email is not null and consent <> '[]' and withdrawn_at is null group by 1)
     select agreed.email, visitor.id as visitor from agreed join visitor on visitor.site_id = $1 and visitor.id = any(visitors)
     union
     select agreed.email, visitor.id from agreed join visitor on visitor.site_id = $1 and visitor.email is not null and lower(visitor.email) = agreed.email and ${mayBy('join', 'email')}`,
    [siteId],
  );

/** Writes down who is wanted at the other side; `unknown` stay as they are. Gives how many that changed. In a transaction. */
export async function setWanted(
  tx: Queryable,
  siteId: number,
  { kept, wanted, unknown }: { kept: string; wanted: readonly string[]; unknown: readonly string[] },
): Promise<{ joining: number; leaving: number }> {
  const changed = `change = kept_member.change + 1, tries = 0, failed = false, reason = '', made_at = now(), next_at = now()`;
  const joining = await tx.query(
    `insert into kept_member (site_id, kept_id, email, wanted) select $1, $2, email, true from unnest($3::text[]) as email
     on conflict (site_id, kept_id, email) do update set wanted = true, ${changed} where not kept_member.wanted`,
    [siteId, kept, wanted],
  );
  const leaving = await tx.query(
    `update kept_member set wanted = false, ${changed} where site_id = $1 and kept_id = $2 and wanted and not (email = any($3)) and not (email = any($4))`,
    [siteId, kept, wanted, unknown],
  );
  // Whoever never got there has nowhere to be taken out.
  await tx.query(`delete from kept_member where site_id = $1 and kept_id = $2 and not wanted and there = 'no'`, [siteId, kept]);
  return { joining: joining.rowCount ?? 0, leaving: leaving.rowCount ?? 0 };
}

export interface DueKept {
  readonly site: number;
  readonly id: string;
  readonly segment: string;
  readonly isEnding: boolean;
}

/** Takes one that is due at `now`, UTC ms; until `next` nobody else does. */
export const takeDueKept = (db: Queryable, { now, next }: { now: number; next: number }): Promise<DueKept | undefined> =>
  maybeOne<DueKept & Record<string, unknown>>(
    db,
    `update kept_segment set next_at = at_ms($2)
      where (site_id, id) in (select site_id, id from kept_segment where next_at <= at_ms($1) order by next_at limit 1 for update skip locked)
      returning site_id as site, id, segment_id as segment, is_ending as "isEnding"`,
    [now, next],
  );
