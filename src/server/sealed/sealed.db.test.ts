import type { RecordedVisitor } from '@/core/rehearsal/recorded';
import { DAY_MS } from '@/core/time/day';
import { seedDemo } from '@/demo/seed';
import { many, one } from '../db/queryable';
import { ReadSide } from '../db/readSide';
import { loadVisitors, withTimelines } from '../db/visitors';
import { eventually } from '../testing/eventually';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { isoDay, recordedDays } from './days';
import { QUIET_MS, sealVisits } from './seal';
import { SiteChunks } from './siteChunks';

let database: FreshDatabase;
let now: number;
beforeAll(async () => {
  database = await freshDatabase();
  now = Date.now();
  await seedDemo(database.pool, { visits: 400, addresses: ['127.0.0.1:4704'], now: now - 3 * 3_600_000, log: () => undefined });
  await database.pool.query(`update visitor set touched_at = now() - interval '1 hour'`);
});
afterAll(() => database.drop());
afterEach(() => jest.restoreAllMocks());

const days = () => recordedDays(database.pool, 1);
/** The days that were over as the tests began; another may end while they run. */
const over = async () => (await days()).filter(({ dayStart }) => dayStart + DAY_MS <= now);
/** Seals whatever is over, at once, or what has been quiet for a while. */
const seal = async (quietMs = 0) =>
  sealVisits(new ReadSide(database.pool), 1, {
    now: Date.now() + 1000,
    graceMs: 0,
    quietMs,
    only: (await over()).map(({ dayStart }) => isoDay(dayStart)),
  });
const sealedDay = async (): Promise<string> =>
  (await one<{ day: string }>(database.pool, `select day::text as day from sealed_visits where visits > 3 order by day limit 1`)).day;

async function fromRows(): Promise<RecordedVisitor[]> {
  const ids = (await many<{ id: number }>(database.pool, `select id from visitor where site_id = 1 order by id`)).map(({ id }) => id);
  return withTimelines(database.pool, 1, await loadVisitors(database.pool, 1, ids), 0);
}

/** Everything of a visitor, in one form. What a signal was before it was put in order is no matter. */
const plain = ({ record, visitIds, timelines }: RecordedVisitor): unknown =>
  JSON.parse(
    JSON.stringify({
      ...record,
      visits: record.visits.map(({ at, source, location, weather, views, events }) => ({ at, source, location, weather, views, events })),
      // Several that came at once have no order.
      changes: record.changes.map(({ at, kind, key, value }) => JSON.stringify([at, kind, key, value])).sort(),
      responses: record.responses.map(({ at, campaign, outcome }) => `${at} ${campaign} ${outcome}`).sort(),
      visitIds,
      timelines: timelines.map((played) =>
        played?.map(({ signals, leave, watched }) => ({ signals: signals.filter(({ t }) => t <= leave).length, leave, watched })),
      ),
    }),
  );
const sorted = (value: unknown): unknown =>
  JSON.parse(
    JSON.stringify(value, (_key, one: unknown) =>
      one && typeof one === 'object' && !Array.isArray(one) ? Object.fromEntries(Object.entries(one).sort()) : one,
    ),
  );

async function expectEqual(chunks: SiteChunks): Promise<void> {
  await chunks.readTimelines(0);
  const expected = await fromRows();
  expect(expected.length).toBeGreaterThan(50);
  for (const visitor of expected) {
    const met = chunks.people.recorded(visitor.id);
    if (visitor.record.visits.length + visitor.record.changes.length + visitor.record.responses.length > 0)
      expect(met && sorted(plain(met))).toEqual(sorted(plain(visitor)));
    else expect(met).toBeUndefined();
  }
}

test('sealed and open days together hold what the raw rows hold', async () => {
  await seal();
  expect((await over()).length).toBeGreaterThan(50);
  expect((await over()).filter(({ sealed }) => sealed === undefined)).toEqual([]);
  // Whoever is still here is in a day that is under way.
  expect((await days()).filter(({ dayStart, sealed }) => dayStart + DAY_MS > now && sealed !== undefined)).toEqual([]);
  const chunks = new SiteChunks(new ReadSide(database.pool), 1);
  expect(await chunks.refresh()).toEqual({ visitors: 'all' });
  await expectEqual(chunks);
  expect(await chunks.refresh()).toBeUndefined();
});

test('what comes late opens its day, is read at once, and is sealed after a while', async () => {
  const day = await sealedDay();
  const chunks = new SiteChunks(new ReadSide(database.pool), 1);
  await chunks.refresh();
  const visit = await one<{ id: string; visitor: number }>(
    database.pool,
    `select id, visitor_id as visitor from visit where site_id = 1 and (started_at at time zone 'UTC')::date = $1::date limit 1`,
    [day],
  );
  const late = async (sql: string, values: unknown[]): Promise<void> => {
    await database.pool.query(sql, values);
    await database.pool.query(`update visitor set touched_at = now() where id = $1`, [visit.visitor]);
    expect(
      (await days())
        .filter(({ lateSince }) => lateSince !== undefined)
        .map(({ dayStart }) => new Date(dayStart).toISOString().slice(0, 10)),
    ).toEqual([day]);
    const news = await chunks.refresh();
    expect(news?.visitors).toContain(visit.visitor);
    await expectEqual(chunks);
    // Something comes every now and then: it is not sealed again and again.
    expect(await seal(QUIET_MS)).toBe(0);
    expect(await seal()).toBe(1);
    await chunks.refresh();
    await expectEqual(chunks);
  };
  await late(
    `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name) select site_id, $2, id, $2, visitor_id, last_at, 'late' from visit where id = $1`,
    [visit.id, newUuid()],
  );
  await late(`update page_view set scroll = 77 where id = (select id from page_view where visit_id = $1 limit 1)`, [visit.id]);
  await late(`update visit set weather = '{"is": "fog"}' where id = $1`, [visit.id]);
  await late(
    `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) select 1, visitor_id, started_at, 'tag', 'late', 'true', $2 from visit where id = $1`,
    [visit.id, newUuid()],
  );
  // A visit's last sign of life says nothing that is sealed.
  await database.pool.query(`update visit set last_at = last_at + interval '1 second', closed_at = null where id = $1`, [visit.id]);
  expect((await days()).some(({ lateSince }) => lateSince !== undefined)).toBe(false);
});

/** Until a statement on this database waits for a lock. */
const untilSomebodyWaits = (): Promise<void> =>
  eventually(
    async () =>
      (await many(database.pool, `select 1 from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`)).length >
      0,
  );

test('a writer who began before the sealing is waited for, and one who comes during it opens the day again', async () => {
  const day = await sealedDay();
  const writer = await database.pool.connect();
  const insert = (key: string) =>
    writer.query(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values (1, 1, $1::date + interval '1 hour', 'tag', $2, 'true', gen_random_uuid())`,
      [day, key],
    );
  await insert('first');
  await writer.query('begin');
  await insert('before');
  const sealing = seal();
  await untilSomebodyWaits();
  await writer.query('commit');
  writer.release();
  expect(await sealing).toBe(1);
  const chunks = new SiteChunks(new ReadSide(database.pool), 1);
  await chunks.refresh();
  expect(chunks.people.record(1, { withViews: false })?.changes.map(({ key }) => key)).toEqual(expect.arrayContaining(['first', 'before']));
  await expectEqual(chunks);
});

test('two who seal at once leave one whole day', async () => {
  await database.pool.query(`update sealed_visits set history = null, timelines = null, digests = null, sealed_at = null`);
  await Promise.all([seal(), seal(), seal()]);
  expect((await over()).filter(({ sealed }) => sealed === undefined)).toEqual([]);
  const chunks = new SiteChunks(new ReadSide(database.pool), 1);
  await chunks.refresh();
  await expectEqual(chunks);
});

test.each(['history', 'timelines'])('a damaged day is noticed, read from the raw rows and sealed anew: %s', async (part) => {
  const day = await sealedDay();
  await database.pool.query(`update sealed_visits set ${part} = set_byte(${part}, 40, (get_byte(${part}, 40) + 1) % 256) where day = $1`, [
    day,
  ]);
  const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const chunks = new SiteChunks(new ReadSide(database.pool), 1);
  await chunks.refresh();
  await expectEqual(chunks);
  expect(said.mock.calls.join()).toContain(`the sealed day ${day} is damaged`);
  expect(await seal()).toBe(1);
});

test('who is erased is gone from what is sealed and from memory', async () => {
  const chunks = new SiteChunks(new ReadSide(database.pool), 1);
  await chunks.refresh();
  const { visitor, days: of } = await one<{ visitor: number; days: string[] }>(
    database.pool,
    `select visitor_id as visitor, array_agg(distinct (started_at at time zone 'UTC')::date::text) as days from visit
      where started_at < $1 group by 1 order by count(*) desc limit 1`,
    [new Date(Math.floor(now / DAY_MS) * DAY_MS)],
  );
  await database.pool.query(`delete from visitor where site_id = 1 and id = $1`, [visitor]);
  const left = await many<{ day: string }>(database.pool, `select day::text as day from sealed_visits where history is null order by 1`);
  expect(left.map(({ day }) => day)).toEqual(of.sort());
  expect(await chunks.refresh()).toEqual({ visitors: 'all' });
  expect(chunks.people.record(visitor, { withViews: true })).toBeUndefined();
  expect(chunks.postings().some(({ visitors }) => visitors.includes(visitor))).toBe(false);
  expect(await seal()).toBe(of.length);
  await chunks.refresh();
  await expectEqual(chunks);
});
