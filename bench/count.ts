import type { DayPostings } from '@/core/counting/postings';
import { countInRange, sumViews } from '@/core/counting/postings';
import { sliceDays } from '@/server/counting/slices';
import { createPool } from '@/server/db/pool';
import type pg from 'pg';
import { execFileSync } from 'node:child_process';
import { median, medianMs, once } from './median';
import { sized } from './sized';
import { DAY_MS } from '@/core/time/day';

const [VIEWS, VISITORS] = [sized(10_000_000, 20_000), sized(200_000, 2000)];
const [PAGES, DAYS] = [400, 90];
const END = Date.parse('2026-11-25T00:00:00Z');

const SITE = 1;
const isCounted = (page: number): boolean => page >= 10 && page < 22;
const dayOf = (day: number): string => new Date(END - (DAYS - day) * DAY_MS).toISOString().slice(0, 10);

/** "Viewed one of 12 pages at least twice in 30 days" over ten million page views: posting lists against SQL with an index made for it. */
export async function benchCount(): Promise<void> {
  const pool = createPool(2);
  const client = await pool.connect();
  try {
    console.log(
      `Counting a segment over ${VIEWS.toLocaleString('en')} views of ${VISITORS.toLocaleString('en')} visitors, ${PAGES} pages, ${DAYS} days`,
    );
    await client.query("set statement_timeout = 0; set work_mem = '256MB'; set max_parallel_workers_per_gather = 2");
    await makeViews(client);
    const days = await loadPostings(client);
    const truths = Uint8Array.from({ length: PAGES + 1 }, (_, page) => (isCounted(page) ? 1 : 0));
    const window = { after: END - 30 * DAY_MS, upTo: END };
    const count = (over: readonly DayPostings[]): number =>
      countInRange(sumViews(over, { truths, window, visitors: VISITORS, mostAsked: 2 }), { min: 2 });
    const sql = async (on: pg.PoolClient = client): Promise<number> =>
      (
        await on.query<{ people: number }>(
          `select count(*)::int as people from (select visitor from bench_view where page between 10 and 21 and at > $1 and at <= $2 group by visitor having count(*) >= 2) as met`,
          [new Date(window.after), new Date(window.upTo)],
        )
      ).rows[0]?.people ?? -1;
    const [byLists, bySql] = [count(days), await sql()];
    if (byLists !== bySql) throw new Error(`Lists count ${byLists}, SQL counts ${bySql}`);
    const [lists, warm] = [await medianMs(15, () => count(days)), await medianMs(7, () => sql())];
    console.log(`  ${byLists.toLocaleString('en')} people both ways`);
    console.log(
      `  warm: lists ${lists.toFixed(2)} ms, SQL (index-only scan) ${warm.toFixed(1)} ms: ${(warm / lists).toFixed(0)} times (goal 50)`,
    );
    client.release(true);
    const cold = await measureCold({ pool, sql, readLists: async (fresh) => count(await readStored(fresh)) });
    if (cold)
      console.log(
        `  just after a restart of the database: lists read from it and counted ${cold.lists.toFixed(0)} ms, SQL ${cold.sql.toFixed(0)} ms: ${(cold.sql / cold.lists).toFixed(1)} times (goal 5)`,
      );
    else console.log('  not measured cold: CRINDLE_BENCH_RESTART is not set; run ./crindle bench count');
  } finally {
    await pool.query('drop table if exists bench_view, sealed_day');
    await pool.end();
  }
}

/** Each way once, each just after a restart: what the database keeps in memory is gone (the file cache of the system is not). */
async function measureCold({
  pool,
  sql,
  readLists,
}: {
  pool: pg.Pool;
  sql: (on: pg.PoolClient) => Promise<number>;
  readLists: (on: pg.PoolClient) => Promise<number>;
}): Promise<{ sql: number; lists: number } | undefined> {
  const restart = process.env['CRINDLE_BENCH_RESTART'];
  if (!restart) return undefined;
  const afterRestart = async (run: (on: pg.PoolClient) => Promise<number>): Promise<number> => {
    execFileSync('bash', ['-c', restart], { stdio: 'ignore' });
    const fresh = await pool.connect();
    await fresh.query('set statement_timeout = 0');
    const taken = await once(() => run(fresh));
    fresh.release(true);
    return taken;
  };
  return {
    sql: median([await afterRestart(sql), await afterRestart(sql), await afterRestart(sql)]),
    lists: median([await afterRestart(readLists), await afterRestart(readLists), await afterRestart(readLists)]),
  };
}

async function makeViews(client: pg.PoolClient): Promise<void> {
  console.error('  making the views (under a minute)');
  await client.query('drop table if exists bench_view, sealed_day');
  await client.query('create unlogged table bench_view (visitor int not null, page int not null, at timestamptz not null)');
  await client.query('select setseed(0.25)');
  // Skewed: some pages and some visitors are met far more often than others.
  await client.query(
    `insert into bench_view select 1 + floor($2 * random() ^ 1.5)::int, 1 + floor($3 * random() ^ 2)::int, $5::timestamptz - random() * make_interval(days => $4)
       from generate_series(1, $1)`,
    [VIEWS, VISITORS, PAGES, DAYS, new Date(END)],
  );
  await client.query('create index bench_view_by_page on bench_view (page, at) include (visitor)');
  await client.query('vacuum analyze bench_view');
}

/** Postings as sealing would store them, in memory and in a table. */
async function loadPostings(client: pg.PoolClient): Promise<DayPostings[]> {
  await client.query(
    'create unlogged table sealed_day (site_id int, day date, pages bytea, visitors bytea, instants bytea, primary key (site_id, day))',
  );
  await client.query('alter table sealed_day alter column visitors set storage external, alter column instants set storage external');
  const days: DayPostings[] = [];
  for (let day = 0; day < DAYS; day++) {
    const dayStart = END - (DAYS - day) * DAY_MS;
    const { rows } = await client.query<[number, number, number]>({
      rowMode: 'array',
      text: `select page, visitor, (extract(epoch from at - $1::timestamptz) * 1000)::int from bench_view where at >= $1 and at < $2 order by page, visitor`,
      values: [new Date(dayStart), new Date(dayStart + DAY_MS)],
    });
    const pages: number[] = [];
    const offsets: number[] = [];
    rows.forEach(([page], index) => {
      if (page === rows[index - 1]?.[0]) return;
      pages.push(page);
      offsets.push(index);
    });
    const made = {
      dayStart,
      pages: Uint32Array.from(pages),
      offsets: Uint32Array.from([...offsets, rows.length]),
      visitors: Uint32Array.from(rows, (row) => row[1]),
      instants: Uint32Array.from(rows, (row) => row[2]),
      engaged: new Uint32Array(0),
      scrolls: new Uint8Array(0),
    };
    days.push(made);
    const bytes = (values: Uint32Array): Buffer => Buffer.from(values.buffer);
    const pairs = Uint32Array.from(pages.flatMap((page, nth) => [page, (made.offsets[nth + 1] as number) - (made.offsets[nth] as number)]));
    await client.query('insert into sealed_day values ($1, $2, $3, $4, $5)', [
      SITE,
      dayOf(day),
      bytes(pairs),
      bytes(made.visitors),
      bytes(made.instants),
    ]);
  }
  return days;
}

const readStored = (client: pg.PoolClient): Promise<DayPostings[]> =>
  sliceDays(
    client,
    SITE,
    Array.from({ length: PAGES + 1 }, (_, page) => isCounted(page)),
    { since: dayOf(DAYS - 30) },
  );
