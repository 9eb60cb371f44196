import { Dictionaries } from '@/core/sealed/chunk';
import type { Chunk, Timelines } from '@/core/sealed/chunk';
import { packChunk, packResults, unpackHistory, unpackResults, unpackTimelines } from '@/core/sealed/pack';
import type { ResultsDay } from '@/core/sealed/resultsDay';
import { ResultNames } from '@/core/sealed/resultsDay';
import { many, one } from '@/server/db/queryable';
import { FACT_COLUMNS } from '@/server/db/visitors';
import { digestOf } from '@/server/sealed/seal';
import type pg from 'pg';

/** What stands of a site apart from its visits. */
const COPIED = ['segment', 'page_set', 'place', 'page_entry'];

type Numbers = Uint8Array | Uint16Array | Uint32Array | Float64Array;
type ByName = Readonly<Record<string, Numbers>>;

/**
 * A larger site in minutes instead of hours: the sealed days of one that was made, so many times over under other visitors. Only what the analysis
 * reads is there (sealed days, visitors, a raw visit a day); of the raw rows nothing else. Gives its id; one that was made before serves again.
 */
export async function repeatSite(pool: pg.Pool, siteId: number, times: number): Promise<number> {
  const key = `repeated${times}of${siteId}`;
  const [made] = await many<{ id: number }>(pool, `select id from site where key = $1`, [key]);
  if (made) return made.id;
  const { id } = await one<{ id: number }>(pool, `insert into site (key, name, addresses) values ($1, $1, '{}') returning id`, [
    `${key}new`,
  ]);
  for (const table of COPIED) {
    const columns = (
      await many<{ name: string }>(
        pool,
        `select column_name as name from information_schema.columns
          where table_schema = 'public' and table_name = $1 and column_name <> 'site_id' and is_generated = 'NEVER'`,
        [table],
      )
    ).map(({ name }) => `"${name}"`);
    await pool.query(`insert into ${table} (site_id, ${columns.join()}) select $2, ${columns.join()} from ${table} where site_id = $1`, [
      siteId,
      id,
    ]);
  }
  const { most } = await one<{ most: number }>(pool, `select max(id) as most from visitor where site_id = $1`, [siteId]);
  for (let nth = 0; nth < times; nth++)
    await pool.query(
      `insert into visitor (site_id, id, browser_id, first_seen, last_seen, touched_at, ${FACT_COLUMNS})
       select $2, id + $3, gen_random_uuid(), first_seen, last_seen, touched_at, ${FACT_COLUMNS}
         from visitor where site_id = $1`,
      [siteId, id, nth * (most + 1)],
    );
  // So that the day is known to have been one.
  await pool.query(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel)
     select $2, gen_random_uuid(), min(visitor_id), min(started_at), min(started_at), 'direct' from visit where site_id = $1 group by (started_at at time zone 'UTC')::date`,
    [siteId, id],
  );
  const days = await many<{ day: string }>(pool, `select day::text as day from sealed_visits where site_id = $1 order by day`, [siteId]);
  for (const { day } of days) await repeatDay(pool, { siteId, id, times, apart: most + 1, day });
  await pool.query(`update site set key = $2, name = $2 where id = $1`, [id, key]);
  return id;
}

async function repeatDay(
  pool: pg.Pool,
  { siteId, id, times, apart, day }: { siteId: number; id: number; times: number; apart: number; day: string },
): Promise<void> {
  const row = await one<{ history: Buffer; timelines: Buffer; results: Buffer }>(
    pool,
    `select history, timelines, results from sealed_visits where site_id = $1 and day = $2`,
    [siteId, day],
  );
  const [known, names] = [new Dictionaries(), new ResultNames()];
  const { dayStart, timelines: _none, ...history } = await unpackHistory(row.history, known);
  const timelines = await unpackTimelines(row.timelines, known);
  const { dayStart: _same, ...results } = await unpackResults(row.results, names);
  const many = repeated(history, { times, apart, visitors: ['visitor'] }) as unknown as Omit<Chunk, 'dayStart' | 'timelines'>;
  for (let at = 15, nth = 0; at < many.visitId.length; at += 16, nth++)
    many.visitId[at] = (many.visitId[at] as number) ^ Math.floor((nth * times) / (many.visitId.length / 16));
  const packed = await packChunk(
    { ...many, dayStart, timelines: repeated({ ...timelines }, { times, apart, visitors: [] }) as unknown as Timelines },
    known,
  );
  const came = repeated(results, { times, apart, visitors: ['metVisitor', 'cameVisitor'] }) as unknown as Omit<ResultsDay, 'dayStart'>;
  const parts = [packed.history, packed.timelines, await packResults({ ...came, dayStart }, names)];
  await pool.query(
    `insert into sealed_visits (site_id, day, visits, history, timelines, results, digests, sealed_at, attempt) values ($1, $2, $3, $4, $5, $6, $7, clock_timestamp(), 1)`,
    [id, day, many.visitAt.length, ...parts, parts.map(digestOf)],
  );
}

/**
 * Columns one after the other; `first…` go on from where the last ended, and each time visitors are `apart` further and instants a millisecond
 * later: of so many visits few begin at one instant.
 */
function repeated(columns: ByName, { times, apart, visitors }: { times: number; apart: number; visitors: readonly string[] }): ByName {
  return Object.fromEntries(
    Object.entries(columns).map(([name, values]) => {
      const isFirst = name.startsWith('first');
      const own = isFirst ? values.subarray(1) : values;
      const out = new (values.constructor as new (length: number) => Numbers)(own.length * times + (isFirst ? 1 : 0));
      const step = isFirst ? (values.at(-1) ?? 0) : visitors.includes(name) ? apart : Number(name.endsWith('At'));
      for (let nth = 0, to = isFirst ? 1 : 0; nth < times; nth++) for (const value of own) out[to++] = value + nth * step;
      return [name, out];
    }),
  );
}
