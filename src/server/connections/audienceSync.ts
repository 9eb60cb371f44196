import type pg from 'pg';
import { judgeBySql } from '../counting/countBySql';
import type { DueKept } from '../db/keptSegments';
import { agreedVisitors, setWanted, takeDueKept } from '../db/keptSegments';
import { withTransaction } from '../db/pool';
import { findSegment } from '../db/segments';

const EVERY_MS = 15 * 60_000;
/** While everybody is taken out it is looked more often whether that is over. */
const ENDING_MS = 5_000;
/** Visitors that are judged by one statement. */
const AT_ONCE = 2_000;

/**
 * Compares the segments that are due with who is at the other side, of all sites of a server: whoever is in them now, has an email and agreed is wanted
 * there, nobody else. What changes waits to be sent. Gives how many were compared. `now`: UTC ms.
 */
export async function syncAudiences(pool: pg.Pool, { now = Date.now }: { now?: () => number } = {}): Promise<number> {
  for (let compared = 0; ; compared++) {
    const at = now();
    const due = await takeDueKept(pool, { now: at, next: at + EVERY_MS });
    if (!due) return compared;
    const { site, id } = due;
    try {
      await compare(pool, due, at);
    } catch (cause) {
      console.error(cause);
      const reason = (cause instanceof Error ? cause.message : String(cause)).slice(0, 500);
      await pool.query(`update kept_segment set note = $3 where site_id = $1 and id = $2`, [site, id, reason]);
    }
  }
}

async function compare(pool: pg.Pool, { site, id, segment: segmentId, isEnding }: DueKept, now: number): Promise<void> {
  const segment = await findSegment(pool, site, segmentId);
  const { wanted, unknown } = segment && !isEnding ? await membersOf(pool, site, { segment, now }) : { wanted: [], unknown: [] };
  await withTransaction(pool, async (tx) => {
    await setWanted(tx, site, { kept: id, wanted, unknown });
    const note = segment || isEnding ? '' : 'the segment is deleted: everybody is taken out';
    await tx.query(`update kept_segment set done_at = at_ms($3), note = $4 where site_id = $1 and id = $2`, [site, id, now, note]);
    if (!isEnding) return;
    const over = await tx.query(
      `delete from kept_segment where site_id = $1 and id = $2 and is_ending and not exists (select from kept_member where site_id = $1 and kept_id = $2)`,
      [site, id],
    );
    if (!over.rowCount)
      await tx.query(`update kept_segment set next_at = at_ms($3) where site_id = $1 and id = $2`, [site, id, now + ENDING_MS]);
  });
}

/** Emails of those who agreed and are in a segment, through any of their browsers; and of those of whom it is not known. */
async function membersOf(
  pool: pg.Pool,
  siteId: number,
  { segment, now }: { segment: Parameters<typeof judgeBySql>[2]; now: number },
): Promise<{ wanted: string[]; unknown: string[] }> {
  const agreed = await agreedVisitors(pool, siteId);
  const visitors = [...new Set(agreed.map(({ visitor }) => visitor))].sort((a, b) => a - b);
  const holds = new Map<number, boolean | null>();
  for (let from = 0; from < visitors.length; from += AT_ONCE)
    for (const judged of await judgeBySql(pool, siteId, segment, now, { only: visitors.slice(from, from + AT_ONCE) }))
      holds.set(judged.visitor, judged.holds);
  const wanted = new Set(agreed.filter(({ visitor }) => holds.get(visitor) === true).map(({ email }) => email));
  const unknown = new Set(
    agreed.filter(({ email, visitor }) => holds.get(visitor) === null && !wanted.has(email)).map(({ email }) => email),
  );
  return { wanted: [...wanted], unknown: [...unknown] };
}
