import type { KeptColumn } from '@/core/counting/standing';
import { Standing } from '@/core/counting/standing';
import type { CountingInput } from '@/core/counting/countPeople';
import { gunzip, gzip } from '@/core/rehearsal/gzip';
import type pg from 'pg';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, maybeOne, one } from '../db/queryable';
import { digestOf } from './seal';
import type { SiteChunks, StateOfDays } from './siteChunks';
import { textOf } from './textOf';

/** Raised whenever conditions come to say something else of the same records, or what is kept is written in another way. */
const VERSION = 1;

interface Head {
  readonly version: number;
  /** A digest of segments, page sets and places: with others everything is worked out anew. */
  readonly known: string;
  readonly lookedAt: number;
  readonly days: StateOfDays['days'];
}

type ColumnHead = Pick<KeptColumn, 'condition' | 'lookback' | 'within' | 'asOf'>;

interface Row<H> {
  [column: string]: unknown;
  readonly head: H;
  /** In base64: shorter than the hexadecimal digits that the driver would ask for. */
  readonly bytes: string;
}

const rowOf = (nth: number): string =>
  `select head, encode(bytes, 'base64') as bytes from standing where site_id = $1 and nth ${nth === 0 ? '= 0' : '> 0'} order by nth`;

/**
 * What was kept of a site's counting, brought to where its records are now, and when (UTC ms) it was made of them; undefined where nothing was,
 * or by other segments, page sets and places. Something damaged is as if it were not there.
 */
export async function takeUpStanding(
  db: Queryable,
  siteId: number,
  { chunks, known }: { chunks: SiteChunks; known: CountingInput['known'] },
): Promise<{ readonly standing: Standing; readonly lookedAt: number } | undefined> {
  const kept = await maybeOne<Row<Head>>(db, rowOf(0), [siteId]);
  if (kept?.head.version !== VERSION || kept.head.known !== digestOfKnown(known)) return undefined;
  try {
    const daysOf = await numbers(kept.bytes);
    const changed = await chunks.changedSince({ ...kept.head, daysOf: words(daysOf) });
    const standing = new Standing();
    for (const { head, bytes } of await many<Row<ColumnHead>>(db, rowOf(1), [siteId])) {
      const packed = await numbers(bytes);
      const size = packed.length / 3;
      if (!Number.isInteger(size)) throw new Error(`met ${packed.length} bytes, expected three of each visitor`);
      standing.takeUp({ ...head, values: new Uint8Array(packed.subarray(0, size)), hours: words(packed.subarray(size)) }, known);
    }
    standing.touch(changed);
    return { standing, lookedAt: kept.head.lookedAt };
  } catch (cause) {
    console.error(`site ${siteId}: what was kept of its counting cannot be read, and is made anew: ${String(cause)}`);
    return undefined;
  }
}

/** Keeps it in place of what was kept before; not where somebody was erased meanwhile. */
export async function keepStanding(
  pool: pg.Pool,
  siteId: number,
  { known, chunks, standing }: { known: CountingInput['known']; chunks: SiteChunks; standing: Standing },
): Promise<void> {
  // The records first: what comes while the columns are packed is then looked at once more.
  const { lookedAt, days, daysOf } = chunks.state();
  const head: Head = { version: VERSION, known: digestOfKnown(known), lookedAt, days };
  const erased = await erasures(pool, siteId);
  const rows: [head: object, bytes: Uint8Array][] = [[head, await gzip(planes(daysOf))]];
  for (const { condition, lookback, within, asOf, values, hours } of standing.kept())
    rows.push([{ condition, lookback, within, asOf } satisfies ColumnHead, await gzip([values, ...planes(hours)])]);
  await withTransaction(pool, async (tx) => {
    await lockStanding(tx, siteId);
    if ((await erasures(tx, siteId)) !== erased) return;
    await tx.query(`delete from standing where site_id = $1`, [siteId]);
    for (const [nth, [of, bytes]] of rows.entries())
      await tx.query(`insert into standing (site_id, nth, head, bytes) values ($1, $2, $3, $4)`, [siteId, nth, JSON.stringify(of), bytes]);
  });
}

const digestOfKnown = ({ segments, sets, places }: CountingInput['known']): string =>
  digestOf(Buffer.from(textOf(segments, sets, places))).toString('base64');

/** Forgets what was kept of a site: somebody is erased from it. In a transaction. */
export async function forgetStanding(tx: Queryable, siteId: number): Promise<void> {
  await lockStanding(tx, siteId);
  await tx.query(`delete from standing where site_id = $1`, [siteId]);
}

/** Whoever keeps and whoever erases come one after the other. */
const lockStanding = (tx: Queryable, siteId: number) =>
  tx.query(`select pg_advisory_xact_lock(hashtext('crindle standing'), $1)`, [siteId]);

const erasures = async (db: Queryable, siteId: number): Promise<number> =>
  (await one<{ count: number }>(db, `select count(*)::int as count from erasure where site_id = $1`, [siteId])).count;

const numbers = (base64: string): Promise<Uint8Array> => gunzip(Buffer.from(base64, 'base64'));

/** The lower bytes of all, then the upper ones: they pack better. */
function planes(of: Uint16Array): [Uint8Array, Uint8Array] {
  const [low, high] = [new Uint8Array(of.length), new Uint8Array(of.length)];
  for (let at = 0; at < of.length; at++) {
    const word = of[at] as number;
    low[at] = word & 0xff;
    high[at] = word >> 8;
  }
  return [low, high];
}

function words(of: Uint8Array): Uint16Array {
  const out = new Uint16Array(of.length / 2);
  for (let at = 0; at < out.length; at++) out[at] = (of[at] as number) | ((of[at + out.length] as number) << 8);
  return out;
}
