import type { EditedKind } from './trash';
import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';

/** An editor says that it is open more often than this; who has been silent for longer has gone. */
const GONE_AFTER_SECONDS = 20;

export interface Beside {
  readonly name: string;
  /** The same person, in another tab. */
  readonly isSelf: boolean;
}

interface Editing {
  readonly siteId: number;
  readonly kind: EditedKind;
  readonly id: string;
  /** UUID of the browser's tab. */
  readonly tab: string;
  readonly memberId: number;
}

/** Notes that somebody has something open; tells who else has, and the revision that is stored (null where it was deleted). */
export async function noteEditing(
  db: Queryable,
  { siteId, kind, id, tab, memberId }: Editing,
): Promise<{ beside: readonly Beside[]; revision: number | null }> {
  await db.query(
    `insert into editing (site_id, kind, id, tab, member_id) values ($1, $2, $3, $4, $5)
     on conflict (site_id, kind, id, tab) do update set seen_at = now(), member_id = excluded.member_id`,
    [siteId, kind, id, tab, memberId],
  );
  await db.query(`delete from editing where seen_at < now() - make_interval(secs => $1)`, [GONE_AFTER_SECONDS]);
  const [beside, stored] = await Promise.all([
    many<{ name: string; isSelf: boolean }>(
      db,
      `select member.name, member.id = $5 as "isSelf" from editing join member on member.id = editing.member_id
        where site_id = $1 and kind = $2 and editing.id = $3 and tab <> $4
        group by member.id, member.name order by min(seen_at), member.name`,
      [siteId, kind, id, tab, memberId],
    ),
    maybeOne<{ revision: number }>(db, `select revision from ${kind} where site_id = $1 and id = $2`, [siteId, id]),
  ]);
  return { beside, revision: stored?.revision ?? null };
}

export async function leaveEditing(db: Queryable, { siteId, kind, id, tab }: Omit<Editing, 'memberId'>): Promise<void> {
  await db.query(`delete from editing where site_id = $1 and kind = $2 and id = $3 and tab = $4`, [siteId, kind, id, tab]);
}
