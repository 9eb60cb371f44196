import type pg from 'pg';
import { copyMembers, KNOWN_MS } from '../db/directory';
import type { Directory, Server } from '../db/directory';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, maybeOne, one } from '../db/queryable';

/** Of a site, but worked out again from the rest. */
const WORKED_OUT = ['late_day', 'standing', 'segment_line', 'visitors_gone'];
/** Of a site, but at home alone, or worked out again. */
const NOT_MOVED = ['membership', 'invitation', ...WORKED_OUT];
/** Whoever knew where the site was before it was held has looked anew by then. */
const HOLD_MS = 3 * KNOWN_MS;
const LOOK_MS = 50;
const DELETED_AT_ONCE = 20_000;

export class NotMovable extends Error {
  readonly code = 'node.notMovable';
}

export interface Moved {
  readonly rows: number;
  /** For how long nothing of the site could be written, ms. */
  readonly heldMs: number;
}

interface Move {
  readonly siteId: number;
  readonly from: Server;
  readonly to: Server;
  readonly toName: string | undefined;
  /** As the other server reaches this one. */
  readonly fromUrl: string;
  readonly name: string;
  readonly tables: readonly string[];
}

/**
 * Moves all rows of a site to the server named `to` (undefined: home). They are copied and followed by logical replication while the site
 * goes on; writing is held for the last moment only, pages keep what they have meanwhile. What was there is deleted once the counts of
 * every table agree and nobody has written to it since.
 * @throws NotMovable with what stands in the way; the site then stays where it is, and can be written again
 */
export async function moveSite(
  directory: Directory,
  {
    siteId,
    to,
    urls,
    log,
    holdMs = HOLD_MS,
  }: { siteId: number; to: string | undefined; urls: (node: string | undefined) => string; log: (text: string) => void; holdMs?: number },
): Promise<Moved> {
  const move = await plan(directory, { siteId, to, urls });
  const lock = await directory.home.connect();
  try {
    const { locked } = await one<{ locked: boolean }>(lock, `select pg_try_advisory_lock(hashtext('crindle move'), $1) as locked`, [
      siteId,
    ]);
    if (!locked) throw new NotMovable('Somebody is moving this site already');
    return await carryOut(directory, move, { log, holdMs });
  } finally {
    await lock.query(`select pg_advisory_unlock(hashtext('crindle move'), $1)`, [siteId]).catch(() => undefined);
    lock.release();
  }
}

async function plan(
  directory: Directory,
  { siteId, to, urls }: { siteId: number; to: string | undefined; urls: (node: string | undefined) => string },
): Promise<Move> {
  const servers = await directory.servers();
  const target = servers.find(({ name }) => name === to);
  if (!target) throw new NotMovable(`There is no node ${to}; there are ${servers.flatMap(({ name }) => name ?? []).join(', ') || 'none'}`);
  const row = await maybeOne<{ node: string | null }>(directory.home, `select node from site where id = $1`, [siteId]);
  if (!row) throw new NotMovable(`There is no site ${siteId}`);
  const source = servers.find(({ name }) => name === (row.node ?? undefined));
  if (!source) throw new NotMovable(`The site’s server ${row.node} is not in the directory`);
  if (source.pool === target.pool) throw new NotMovable(`The site is there already`);
  const { level } = await one<{ level: string }>(source.pool, `select current_setting('wal_level') as level`);
  if (level !== 'logical')
    throw new NotMovable(`wal_level of the server it is on: met ${level}, expected logical (set it and start PostgreSQL again)`);
  const [here, there] = await Promise.all([source.pool, target.pool].map(newestMigration));
  if (here !== there)
    throw new NotMovable(`The servers are at different migrations (${here} and ${there}); ./crindle start brings all to the newest`);
  return {
    siteId,
    from: source,
    to: target,
    toName: to,
    fromUrl: urls(source.name),
    name: `crindle_move_${siteId}`,
    tables: await tablesOfSites(source.pool),
  };
}

const newestMigration = async (db: Queryable): Promise<string> =>
  (await one<{ name: string }>(db, `select name from migration order by id desc limit 1`)).name;

/** Every table whose rows belong to a site; of what is partitioned the whole. What does not outlive a crash does not move. */
async function tablesOfSites(db: Queryable): Promise<string[]> {
  const rows = await many<{ name: string }>(
    db,
    `select c.relname as name from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attname = 'site_id' and not a.attisdropped
      where c.relnamespace = 'public'::regnamespace and c.relkind in ('r', 'p') and c.relpersistence = 'p' and not c.relispartition and not c.relname = any($1) order by 1`,
    [NOT_MOVED],
  );
  return rows.map(({ name }) => name);
}

async function carryOut(
  directory: Directory,
  move: Move,
  { log, holdMs }: { log: (text: string) => void; holdMs: number },
): Promise<Moved> {
  const { siteId, to, toName } = move;
  await undo(move);
  await makeReady(directory, move);
  let heldAt: number | undefined;
  let isSwitched = false;
  try {
    log('copying');
    await follow(move);
    await until(() => isCopied(move), 'everything is copied');
    log('copied; holding what is written');
    heldAt = performance.now();
    await directory.home.query(`update site set held_at = clock_timestamp() where id = $1`, [siteId]);
    await pause(holdMs);
    // Whoever knows of it does not begin any more; whoever began before is waited for.
    const { known } = await one<{ known: string }>(move.from.pool, `select clock_timestamp()::text as known`);
    await until(() => nobodyWrites(move, known), 'whoever was writing has ended');
    await until(async () => hasReached(move, await placeOf(move.from.pool)), 'the last of it has come over');
    await copySite(directory, move);
    const [before, after] = [await countRows(move.from.pool, move), await countRows(to.pool, move)];
    const wrong = move.tables.filter((table) => before.get(table) !== after.get(table));
    if (wrong.length > 0)
      throw new NotMovable(
        `Not everything came over: ${wrong.map((table) => `${table} ${before.get(table)} and ${after.get(table)}`).join(', ')}`,
      );
    await directory.home.query(`update site set node = $2, held_at = null where id = $1`, [siteId, toName ?? null]);
    isSwitched = true;
    const heldMs = Math.round(performance.now() - heldAt);
    log(`switched; held for ${heldMs} ms`);
    // Whoever does not know yet would write where the rows were: it is waited for, and what it wrote comes over still.
    await pause(holdMs);
    const left = await countRows(move.from.pool, move);
    if (move.tables.some((table) => left.get(table) !== before.get(table))) {
      await until(async () => hasReached(move, await placeOf(move.from.pool)), 'what came late has come over');
      log('something was written late; it has come over');
    }
    await undo(move);
    await clear(move.from.pool, move);
    return { rows: [...after.values()].reduce((sum, count) => sum + count, 0), heldMs };
  } catch (cause) {
    if (!isSwitched) {
      if (heldAt !== undefined) await directory.home.query(`update site set held_at = null where id = $1`, [siteId]);
      await undo(move);
      await clear(to.pool, move);
    }
    throw cause;
  }
}

/** The other server gets the site's own row and its members, which rows name, and months to put rows into. */
async function makeReady(directory: Directory, move: Move): Promise<void> {
  const { siteId, from, to } = move;
  await clear(to.pool, move);
  await copySite(directory, move);
  if (to.pool !== directory.home) await copyMembers(directory.home, { siteId, to: to.pool });
  const months = await many<{ month: string }>(
    from.pool,
    `select distinct to_char(started_at, 'YYYY-MM-01') as month from visit where site_id = $1 order by 1`,
    [siteId],
  );
  for (const { month } of months) await to.pool.query(`select add_partitions($1::date)`, [month]);
}

/** The row of the site as it stands where the site is. What a server's directory says of it is that server's own. */
async function copySite(directory: Directory, { siteId, from, to }: Move): Promise<void> {
  const { row } = await one<{ row: Record<string, unknown> }>(
    from.pool,
    `select to_jsonb(site) - 'node' - 'held_at' as row from site where id = $1`,
    [siteId],
  );
  const quoted = Object.keys(row).map((name) => `"${name}"`);
  const changing = quoted.filter((name) => name !== '"id"');
  const names = quoted.join(', ');
  await to.pool.query(
    `insert into site (${names}) overriding system value select ${names} from jsonb_populate_record(null::site, $1::jsonb)
     on conflict (id) do update set ${changing.map((name) => `${name} = excluded.${name}`).join(', ')}`,
    [JSON.stringify(row)],
  );
}

async function follow({ siteId, from, to, fromUrl, name, tables }: Move): Promise<void> {
  await from.pool.query(
    `create publication ${name} for ${tables.map((table) => `table "${table}" where (site_id = ${siteId})`).join(', ')} with (publish_via_partition_root = true)`,
  );
  // A subscription within one cluster cannot make its own place in the log.
  await from.pool.query(`select pg_create_logical_replication_slot($1, 'pgoutput')`, [name]);
  await to.pool.query(
    `create subscription ${name} connection '${fromUrl.replaceAll("'", "''")}' publication ${name} with (create_slot = false, slot_name = '${name}')`,
  );
}

async function isCopied({ to, name }: Move): Promise<boolean> {
  const { missing } = await one<{ missing: number }>(
    to.pool,
    `select count(*)::int as missing from pg_subscription_rel join pg_subscription on pg_subscription.oid = srsubid where subname = $1 and srsubstate <> 'r'`,
    [name],
  );
  return missing === 0;
}

const placeOf = async (db: Queryable): Promise<string> =>
  (await one<{ lsn: string }>(db, `select pg_current_wal_insert_lsn()::text as lsn`)).lsn;

/** Whether all that was written by then has been written over there. */
async function hasReached({ from, name }: Move, lsn: string): Promise<boolean> {
  return (
    await one<{ reached: boolean }>(
      from.pool,
      `select coalesce(confirmed_flush_lsn >= $2::pg_lsn, false) as reached from pg_replication_slots where slot_name = $1`,
      [name, lsn],
    )
  ).reached;
}

/** Transactions that began before the site was held may write of it still. */
async function nobodyWrites({ from }: Move, since: string): Promise<boolean> {
  const { writing } = await one<{ writing: number }>(
    from.pool,
    `select count(*)::int as writing from pg_stat_activity
      where datname = current_database() and backend_type = 'client backend' and pid <> pg_backend_pid() and xact_start < $1::timestamptz`,
    [since],
  );
  return writing === 0;
}

async function countRows(db: Queryable, { siteId, tables }: Move): Promise<Map<string, number>> {
  const counts = new Map<string, number>();
  for (const table of tables)
    counts.set(table, (await one<{ rows: number }>(db, `select count(*)::int as rows from "${table}" where site_id = $1`, [siteId])).rows);
  return counts;
}

/** Takes away what follows and is followed; nothing where there is nothing. */
async function undo({ from, to, name }: Move): Promise<void> {
  const there = await maybeOne(to.pool, `select from pg_subscription where subname = $1`, [name]);
  if (there) {
    await to.pool.query(`alter subscription ${name} disable`);
    await to.pool.query(`alter subscription ${name} set (slot_name = none)`);
    await to.pool.query(`drop subscription ${name}`);
  }
  await from.pool.query(`drop publication if exists ${name}`);
  await until(async () => {
    const slot = await maybeOne<{ active: boolean }>(from.pool, `select active from pg_replication_slots where slot_name = $1`, [name]);
    if (slot && !slot.active) await from.pool.query(`select pg_drop_replication_slot($1)`, [name]);
    return !slot?.active;
  }, 'nobody follows any more');
}

/** Deletes what a server has of a site but its own row, some at a time. What it says of deletions to others is of no matter there. */
async function clear(pool: pg.Pool, { siteId, tables }: Move): Promise<void> {
  for (const table of [...tables, ...WORKED_OUT])
    for (let deleted = DELETED_AT_ONCE; deleted === DELETED_AT_ONCE;)
      deleted = await withTransaction(pool, async (tx) => {
        // Neither days nor other rows need to be told, one by one, of what goes as a whole.
        await tx.query(`set local session_replication_role = replica`);
        const { rowCount } = await tx.query(
          `delete from "${table}" where site_id = $1 and ctid = any (array(select ctid from "${table}" where site_id = $1 limit ${DELETED_AT_ONCE}))`,
          [siteId],
        );
        return rowCount ?? 0;
      });
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

async function until(holds: () => Promise<boolean>, what: string): Promise<void> {
  for (const began = performance.now(); !(await holds());) {
    if (performance.now() - began > 6 * 3_600_000) throw new NotMovable(`Waited for six hours until ${what}`);
    await pause(LOOK_MS);
  }
}
