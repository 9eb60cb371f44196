import pg from 'pg';
import { seedDemo } from '@/demo/seed';
import { SiteMemory } from '../analysis/site';
import { judgeEveryone } from '@/core/counting/countPeople';
import { sealVisits } from '../sealed/seal';
import { Cluster } from '../testing/clusters';
import { eventually } from '../testing/eventually';
import { newUuid } from '../testing/items';
import { one } from './queryable';
import { MOST_BEHIND_MS, ReadSide } from './readSide';
import { listSomeVisits } from './visits';

let primary: Cluster;
let replica: Cluster;
let writing: pg.Pool;
let copying: pg.Pool;
let clock = 0;
const quiet = (url: string): pg.Pool => {
  const pool = new pg.Pool({ connectionString: url, max: 4 });
  pool.on('error', () => undefined); // Clusters are ended on purpose.
  return pool;
};
/** Whoever is told nothing about the time looks anew each time. */
const reading = () => new ReadSide(writing, copying, () => (clock += 3000));
const isCaughtUp = async () =>
  (
    await one<{ is: boolean }>(copying, `select pg_last_wal_replay_lsn() >= $1::pg_lsn as is`, [
      (await one<{ lsn: string }>(writing, `select pg_current_wal_insert_lsn()::text as lsn`)).lsn,
    ])
  ).is;
const whereRead = (side: ReadSide) => side.read(async (db) => (db === copying ? 'replica' : db === writing ? 'primary' : 'elsewhere'));

beforeAll(async () => {
  primary = await Cluster.make();
  writing = quiet(primary.url);
  await seedDemo(writing, { visits: 200, addresses: ['127.0.0.1:4704'], now: Date.now() - 3 * 3_600_000, log: () => undefined });
  replica = await Cluster.following(primary);
  copying = quiet(replica.url);
});
afterAll(async () => {
  await Promise.all([writing.end(), copying.end()]);
  replica.remove();
  primary.remove();
});

test('a replica that is near is read, and the primary where there is none', async () => {
  await eventually(isCaughtUp, 'the replica has everything');
  expect(await whereRead(reading())).toBe('replica');
  expect(await reading().state()).toMatchObject({ is: 'used' });
  expect(await whereRead(new ReadSide(writing))).toBe('primary');
  expect(await new ReadSide(writing).state()).toEqual({ is: 'none' });
});

test('one that falls behind is left alone until it has caught up; a quiet primary does not make it look late', async () => {
  const side = reading();
  await eventually(isCaughtUp, 'the replica has everything');
  // A long time in which nothing is written.
  clock += 10 * MOST_BEHIND_MS;
  expect(await side.state()).toEqual({ is: 'used', behindMs: 0 });
  await copying.query(`select pg_wal_replay_pause()`);
  try {
    await writing.query(`update site set name = name`);
    expect(await whereRead(side)).toBe('replica');
    clock += MOST_BEHIND_MS;
    await writing.query(`update site set name = name`);
    expect(await side.state()).toMatchObject({ is: 'behind' });
    expect(await whereRead(side)).toBe('primary');
  } finally {
    await copying.query(`select pg_wal_replay_resume()`);
  }
  await eventually(async () => (await side.state()).is === 'used', 'it is used again');
  expect(await whereRead(side)).toBe('replica');
});

test('what was just written is read where it is', async () => {
  const side = reading();
  await copying.query(`select pg_wal_replay_pause()`);
  try {
    await writing.query(`insert into site (key, name, addresses) values ('caughtupsite', 'Caught up', '{}')`);
    expect(await side.caughtUp(50)).toBe(writing);
  } finally {
    await copying.query(`select pg_wal_replay_resume()`);
  }
  await writing.query(`update site set name = 'Caught up later' where key = 'caughtupsite'`);
  const db = await side.caughtUp(20_000_000);
  expect(db).toBe(copying);
  expect(await one(db, `select name from site where key = 'caughtupsite'`)).toEqual({ name: 'Caught up later' });
});

test('sealing, counting and lists by the replica say what they say by the primary, also while it comes and goes', async () => {
  const side = reading();
  const people = { kind: 'visits', times: { min: 1 } } as const;
  const members = async (of: ReadSide) => {
    const input = await new SiteMemory(of, 1).counting();
    return [...judgeEveryone({ lookback: 540, people }, input)];
  };
  await writing.query(`update sealed_visits set history = null, timelines = null, digests = null, sealed_at = null`);
  const read = jest.spyOn(copying, 'query');
  expect(await sealVisits(side, 1, { now: Date.now(), graceMs: 0 })).toBeGreaterThan(20);
  expect(read.mock.calls.some(([sql]) => typeof sql === 'string' && sql.includes('from page_view'))).toBe(true);
  await eventually(isCaughtUp, 'the replica has everything');
  const expected = await members(new ReadSide(writing));
  expect(expected.filter((each) => each === 1).length).toBeGreaterThan(50);
  expect(await members(side)).toEqual(expected);
  read.mockRestore();

  // A memory that is kept goes on over a change of sides, and misses nothing that came meanwhile.
  const kept = new SiteMemory(side, 1);
  await kept.counting();
  replica.stop('immediate');
  const visit = newUuid();
  await writing.query(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, source_at, channel) select 1, $1, max(id), now(), now(), now(), 'direct' from visitor where site_id = 1`,
    [visit],
  );
  await writing.query(`update visitor set touched_at = now() where id = (select max(id) from visitor where site_id = 1)`);
  expect(await whereRead(side)).toBe('primary');
  expect(await side.state()).toMatchObject({ is: 'away' });
  expect((await listSomeVisits(side, 1, [visit])).map(({ id }) => id)).toEqual([visit]);
  replica.start();
  await eventually(async () => (await side.state()).is === 'used' && (await isCaughtUp()), 'the replica is back');
  expect(await whereRead(side)).toBe('replica');
  // What is counted may be some seconds old.
  const later = jest.spyOn(Date, 'now').mockReturnValue(Date.now() + 10_000);
  const { visits } = await one<{ visits: number }>(writing, `select count(*)::int as visits from visit where site_id = 1`);
  expect((await kept.findVisits({ terms: [], asOf: Date.now() })).visits).toHaveLength(visits);
  later.mockRestore();
  expect(await members(side)).toEqual(await members(new ReadSide(writing)));
});

test('a database that is no replica is not read as one', async () => {
  const side = new ReadSide(writing, writing, () => (clock += 3000));
  expect(await side.state()).toEqual({ is: 'away', reason: expect.stringContaining('not a replica') as string });
});
