import type pg from 'pg';
import { steps } from '../db/failedTasks';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, one } from '../db/queryable';
import { forgetStanding } from '../sealed/keptStanding';

/** For how many days a site keeps what; null: until somebody erases it. */
export interface Kept {
  readonly visits: number | null;
  readonly leads: number | null;
  readonly conversations: number | null;
}

export const keptOf = (db: Queryable, siteId: number): Promise<Kept> =>
  one<Kept & Record<string, unknown>>(
    db,
    `select keep_visits as visits, keep_leads as leads, keep_conversations as conversations from site where id = $1`,
    [siteId],
  );

export async function setKept(db: Queryable, siteId: number, { visits, leads, conversations }: Kept): Promise<void> {
  await db.query(`update site set keep_visits = $2, keep_leads = $3, keep_conversations = $4 where id = $1`, [
    siteId,
    visits,
    leads,
    conversations,
  ]);
}

const AT_ONCE = 2_000;
const DAY_MS = 86_400_000;

/** Since when visits are kept, UTC ms: whole days. */
export const visitsKeptSince = (days: number, now: number): number => Math.floor((now - days * DAY_MS) / DAY_MS) * DAY_MS;

/** How many visits, leads and conversations would go if so much was kept. `now`: UTC ms. */
export const wouldGo = (
  db: Queryable,
  siteId: number,
  { visits, leads, conversations }: Kept,
  now: number,
): Promise<{ visits: number; leads: number; conversations: number }> =>
  one(
    db,
    `select (select count(*)::int from visit where site_id = $1 and started_at < at_ms($2)) as visits,
            (select count(*)::int from lead where site_id = $1 and at < at_ms($3)) as leads,
            (select count(*)::int from thread where site_id = $1 and last_at < at_ms($4)) as conversations`,
    [
      siteId,
      visits === null ? 0 : visitsKeptSince(visits, now),
      leads === null ? 0 : now - leads * DAY_MS,
      conversations === null ? 0 : now - conversations * DAY_MS,
    ],
  );

/** Lets go of what sites of a server keep no longer. `now`: UTC ms. Gives how many visits, leads and conversations went. */
export async function letGo(pool: pg.Pool, now: number): Promise<{ visits: number; leads: number; conversations: number }> {
  const sites = await many<Kept & { id: number }>(
    pool,
    `select id, keep_visits as visits, keep_leads as leads, keep_conversations as conversations from site
      where coalesce(keep_visits, keep_leads, keep_conversations) is not null`,
  );
  const gone = { visits: 0, leads: 0, conversations: 0 };
  const { step, failures } = await steps(pool, 'let go', { now });
  for (const { id, visits, leads, conversations } of sites) {
    const each = (what: keyof Kept, work: () => Promise<unknown>) => step({ site: id, subject: what, name: what }, work);
    if (visits !== null) await each('visits', async () => void (gone.visits += await letVisitsGo(pool, id, visitsKeptSince(visits, now))));
    if (leads !== null)
      await each('leads', async () => {
        gone.leads += await inBatches(
          pool,
          `delete from lead where (site_id, id) in (select site_id, id from lead where site_id = $1 and at < at_ms($2) limit ${AT_ONCE})`,
          [id, now - leads * DAY_MS],
        );
      });
    if (conversations !== null)
      await each('conversations', async () => {
        gone.conversations += await inBatches(
          pool,
          `with old as (select site_id, id from thread where site_id = $1 and last_at < at_ms($2) limit ${AT_ONCE}),
                pictures as (delete from line_picture using old where line_picture.site_id = old.site_id and thread_id = old.id)
           delete from thread using old where thread.site_id = old.site_id and thread.id = old.id`,
          [id, now - conversations * DAY_MS],
        );
      });
  }
  if (failures.length > 0) throw new AggregateError(failures, `${failures.length} kinds were not let go of: ${String(failures[0])}`);
  return gone;
}

async function inBatches(pool: pg.Pool, sql: string, values: readonly unknown[]): Promise<number> {
  for (let all = 0; ;) {
    const { rowCount } = await pool.query(sql, [...values]);
    all += rowCount ?? 0;
    if ((rowCount ?? 0) < AT_ONCE) return all;
  }
}

/** Visits that began before a day (UTC ms of its beginning) go with all that was recorded in them, and visitors who were not seen since. */
async function letVisitsGo(pool: pg.Pool, siteId: number, day: number): Promise<number> {
  let all = 0;
  for (;;) {
    const went = await withTransaction(pool, async (tx) => {
      const old = (
        await many<{ id: string }>(
          tx,
          `select id from visit where site_id = $1 and started_at < at_ms($2) order by started_at limit ${AT_ONCE}`,
          [siteId, day],
        )
      ).map(({ id }) => id);
      if (old.length === 0) return 0;
      const of = [siteId, old];
      await tx.query(
        `delete from signal_piece using page_view where page_view.site_id = $1 and visit_id = any($2::uuid[]) and signal_piece.site_id = $1 and view_id = page_view.id`,
        of,
      );
      for (const table of ['page_view', 'event', 'showing'])
        await tx.query(`delete from ${table} where site_id = $1 and visit_id = any($2::uuid[])`, of);
      await tx.query(`delete from visit where site_id = $1 and id = any($2::uuid[])`, of);
      return old.length;
    });
    all += went;
    if (went < AT_ONCE) break;
  }
  // What they are known as now stays with those who come still; whoever has not been seen since goes whole.
  await inBatches(
    pool,
    `delete from visitor where site_id = $1 and id in (
       select id from visitor where site_id = $1 and last_seen < at_ms($2)
          and not exists (select from thread where thread.site_id = $1 and visitor_id = visitor.id) limit ${AT_ONCE})`,
    [siteId, day],
  );
  if (all > 0) await withTransaction(pool, (tx) => forgetStanding(tx, siteId));
  for (const table of ['sealed_visits', 'sealed_day'])
    await pool.query(`delete from ${table} where site_id = $1 and day < at_ms($2)::date`, [siteId, day]);
  if (all > 0)
    await pool.query(
      `delete from page_entry where site_id = $1 and not exists (select from page_view where page_view.site_id = $1 and page_view.url = page_entry.url)`,
      [siteId],
    );
  return all;
}
