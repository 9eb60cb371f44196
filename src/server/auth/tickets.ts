import { randomBytes } from 'node:crypto';
import type { Queryable } from '../db/queryable';
import { maybeOne } from '../db/queryable';
import { tokenHash } from './token';

export type TicketKind = 'first' | 'reset' | 'code' | 'factor';

export interface Ticket {
  readonly memberId: number | null;
  readonly data: Readonly<Record<string, unknown>>;
}

/** Lets whoever holds the token that it gives do one thing once. Of the kinds that are somebody's the last one alone is good. */
export async function makeTicket(
  db: Queryable,
  { kind, memberId = null, data = {}, minutes }: { kind: TicketKind; memberId?: number | null; data?: object; minutes: number },
): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await db.query(
    `delete from ticket where expires_at < now() or (kind = $1 and member_id is not distinct from $2::int and kind <> 'code')`,
    [kind, memberId],
  );
  await db.query(
    `insert into ticket (hash, kind, member_id, data, expires_at) values ($1, $2, $3, $4, now() + make_interval(mins => $5))`,
    [tokenHash(token), kind, memberId, JSON.stringify(data), minutes],
  );
  return token;
}

const COLUMNS = `member_id as "memberId", data`;

/** Whether a token is good still; it stays so. */
export const findTicket = (db: Queryable, kind: TicketKind, token: string): Promise<Ticket | undefined> =>
  maybeOne<Ticket & Record<string, unknown>>(db, `select ${COLUMNS} from ticket where hash = $1 and kind = $2 and expires_at > now()`, [
    tokenHash(token),
    kind,
  ]);

/** Takes a token: of several who come with it at once one gets it. */
export const takeTicket = (db: Queryable, kind: TicketKind, token: string): Promise<Ticket | undefined> =>
  maybeOne<Ticket & Record<string, unknown>>(
    db,
    `delete from ticket where hash = $1 and kind = $2 and expires_at > now() returning ${COLUMNS}`,
    [tokenHash(token), kind],
  );

/** Notes a try before it is looked at; undefined once there were too many, or where there is no such ticket. */
export const tryTicket = (db: Queryable, kind: TicketKind, token: string, most: number): Promise<Ticket | undefined> =>
  maybeOne<Ticket & Record<string, unknown>>(
    db,
    `update ticket set tries = tries + 1 where hash = $1 and kind = $2 and expires_at > now() and tries < $3 returning ${COLUMNS}`,
    [tokenHash(token), kind, most],
  );
