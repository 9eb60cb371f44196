import { DAY_MS } from '@/core/time/day';
import { People } from '@/core/sealed/people';
import type { SegmentBody } from '@/core/people/subject';
import { seedDemo } from '@/demo/seed';
import { SEGMENTS } from '@/demo/world/segments';
import fc from 'fast-check';
import { many, one } from '../db/queryable';
import { ReadSide } from '../db/readSide';
import { findSegment, updateSegment } from '../db/segments';
import { findPerson } from '../privacy/find';
import { erasePerson } from '../privacy/person';
import { sealVisits } from '../sealed/seal';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { SiteMemory } from './site';
import type { AnswerTo, Task } from './task';
import { work } from './work';

const SITE = 1;
let database: FreshDatabase;
let now: number;
beforeAll(async () => {
  database = await freshDatabase();
  now = Date.now();
  await seedDemo(database.pool, { visits: 400, addresses: ['127.0.0.1:4704'], now: now - 3 * 3_600_000, log: () => undefined });
  await database.pool.query(`update visitor set touched_at = now() - interval '1 hour'`);
  // What is worked out by instants to come goes by this clock; the database keeps its own.
  jest.spyOn(Date, 'now').mockImplementation(() => now);
});
afterAll(async () => {
  jest.restoreAllMocks();
  await database.drop();
});

const segments: SegmentBody[] = SEGMENTS.map(({ lookback, people }) => ({ lookback, people }));

async function ask<T extends Task>(memory: SiteMemory, task: T): Promise<AnswerTo<T>> {
  let last: AnswerTo<Task> | undefined;
  for await (const part of work(memory, task)) last = part ?? last;
  return last as AnswerTo<T>;
}

const memory = (keptFrom = 0): SiteMemory => new SiteMemory(new ReadSide(database.pool), SITE, { keptFrom });
const sizes = (of: SiteMemory) => ask(of, { kind: 'sizes', site: SITE, segments });
const lines = (of: SiteMemory, asked = segments) => ask(of, { kind: 'trends', site: SITE, segments: asked, days: 30 });

/** As they are counted by whoever knows of nothing that was kept. */
async function countedAnew() {
  const anew = memory(Infinity);
  const client = await database.pool.connect();
  const kept = await many<{ row: object }>(client, `select to_jsonb(segment_line) as row from segment_line`);
  await client.query(`delete from segment_line`);
  const out = { sizes: await sizes(anew), lines: await lines(anew) };
  await client.query(`delete from segment_line`);
  await client.query(`insert into segment_line select * from jsonb_populate_recordset(null::segment_line, $1)`, [
    JSON.stringify(kept.map(({ row }) => row)),
  ]);
  client.release();
  return out;
}

const visitors = async (): Promise<number[]> =>
  (await many<{ id: number }>(database.pool, `select id from visitor where site_id = $1 order by id`, [SITE])).map(({ id }) => id);

const touch = (visitor: number) => database.pool.query(`update visitor set touched_at = clock_timestamp() where id = $1`, [visitor]);

/** What may befall records between two starts; `nth` chooses whom. */
const BEFALLS: Readonly<Record<string, (nth: number) => Promise<unknown>>> = {
  'time goes by': (nth) => Promise.resolve((now += (nth % 40) * 3_600_000)),
  'somebody comes back': async (nth) => {
    const all = await visitors();
    const visitor = all[nth % all.length] as number;
    const [visit, at] = [newUuid(now), new Date(now - 60_000)];
    await database.pool.query(
      `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, $4, $4, 'paid')`,
      [SITE, visit, visitor, at],
    );
    await database.pool.query(
      `insert into page_view (site_id, id, visit_id, visitor_id, at, url) values ($1, $2, $3, $4, $5, 'https://tarnhollow.example/huts/crag')`,
      [SITE, newUuid(now), visit, visitor, at],
    );
    await touch(visitor);
  },
  'somebody is tagged': async (nth) => {
    const all = await visitors();
    const visitor = all[nth % all.length] as number;
    await database.pool.query(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values ($1, $2, $3, 'tag', 'family', 'true', $4)`,
      [SITE, visitor, new Date(now - (nth % 50) * DAY_MS), newUuid()],
    );
    await touch(visitor);
  },
  'some turn out to be of the team, or not': (nth) =>
    database.pool.query(`update visitor set team = not team, touched_at = clock_timestamp() where site_id = $1 and id % 7 = $2`, [
      SITE,
      nth % 7,
    ]),
  'somebody is erased': async (nth) => {
    const all = await visitors();
    const { browser } = await one<{ browser: string }>(
      database.pool,
      `select browser_id::text as browser from visitor where site_id = $1 and id = $2`,
      [SITE, all[nth % all.length]],
    );
    const person = await findPerson(database.pool, SITE, { by: 'browser', value: browser });
    await erasePerson(database.pool, SITE, { person, by: 'Ines', foundBy: 'browser' });
  },
  'visits go, and only those': (nth) =>
    database.pool.query(
      `with gone as (select site_id, id from visit where site_id = $1 order by id offset $2 limit 25),
            views as (delete from page_view using gone where page_view.site_id = gone.site_id and visit_id = gone.id),
            events as (delete from event using gone where event.site_id = gone.site_id and visit_id = gone.id)
       delete from visit using gone where visit.site_id = gone.site_id and visit.id = gone.id`,
      [SITE, nth % 300],
    ),
  'days are sealed': async () => {
    await database.pool.query(`update late_day set at = at - interval '1 hour'`);
    await sealVisits(new ReadSide(database.pool), SITE, { now });
  },
};

const befalls = fc.array(fc.tuple(fc.constantFrom(...Object.keys(BEFALLS)), fc.nat(10_000)), { minLength: 1, maxLength: 4 });

test('after a start what was kept leads to the same sizes and lines as counting anew, whatever has happened meanwhile', async () => {
  await fc.assert(
    fc.asyncProperty(befalls, fc.boolean(), async (happened, keeps) => {
      await BEFALLS['days are sealed']?.(0);
      const before = memory();
      await sizes(before);
      await lines(before);
      await before.kept();
      for (const [what, nth] of happened) await (BEFALLS[what] as (nth: number) => Promise<unknown>)(nth);
      // Some start twice without keeping anything between.
      const between = memory();
      if (keeps) await sizes(between);
      await between.kept();
      const after = memory();
      expect({ sizes: await sizes(after), lines: await lines(after) }).toEqual(await countedAnew());
    }),
    { numRuns: 12 },
  );
}, 240_000);

test('who is there unchanged is not looked at again after a start, and midnights that are over are not counted again', async () => {
  // At noon: the day before is over for long enough to be sealed.
  now = (Math.floor(now / DAY_MS) + 1.5) * DAY_MS;
  await BEFALLS['days are sealed']?.(0);
  await database.pool.query(`delete from standing`);
  await database.pool.query(`update visitor set touched_at = now() - interval '1 hour'`);
  const first = memory();
  const [all, was] = [await sizes(first), await lines(first)];
  await first.kept();
  const glances = jest.spyOn(People.prototype, 'glance');
  const records = jest.spyOn(People.prototype, 'record');
  const anew = memory(Infinity);
  expect(await sizes(anew)).toEqual(all);
  const [glancedAnew, readAnew] = [glances.mock.calls.length, records.mock.calls.length];
  expect(glancedAnew).toBeGreaterThan(40);
  glances.mockClear();
  expect(await lines(memory(Infinity))).toEqual(was);
  const linesAnew = glances.mock.calls.length;
  glances.mockClear();
  records.mockClear();
  const after = memory();
  expect(await sizes(after)).toEqual(all);
  expect([glances.mock.calls.length < glancedAnew / 4, records.mock.calls.length <= readAnew / 4]).toEqual([true, true]);
  glances.mockClear();
  const again = await lines(after);
  expect(again).toEqual(was);
  expect([linesAnew > 40, glances.mock.calls.length]).toEqual([true, 0]);
  glances.mockRestore();
  records.mockRestore();
});

test('with other segments, or where it is damaged, what was kept is not taken up', async () => {
  const kept = memory();
  await sizes(kept);
  await kept.kept();
  const { rowCount } = await database.pool.query(`update standing set bytes = '\\x00' where site_id = $1 and nth = 1`, [SITE]);
  expect(rowCount).toBe(1);
  const said = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const damaged = memory();
  expect(await sizes(damaged)).toEqual((await countedAnew()).sizes);
  await damaged.kept();
  expect(said).toHaveBeenCalledWith(expect.stringContaining('site 1: what was kept of its counting cannot be read'));
  said.mockRestore();

  await database.pool.query(`delete from standing`);
  const again = memory();
  await sizes(again);
  await again.kept();
  const inside: SegmentBody = { lookback: 30, people: { kind: 'segment', id: 'seg_comparing' } };
  const before = await lines(memory(), [inside]);
  const stored = await findSegment(database.pool, SITE, 'seg_comparing');
  if (!stored) throw new Error('The demo has no segment seg_comparing');
  await updateSegment(database.pool, { ...stored, siteId: SITE, people: { all: [] } });
  const everybody = memory();
  const [size] = await ask(everybody, { kind: 'sizes', site: SITE, segments: [inside] });
  const [line] = await lines(everybody, [inside]);
  const { people } = await one<{ people: number }>(
    database.pool,
    `select count(distinct visitor_id)::int as people from visit where site_id = $1`,
    [SITE],
  );
  expect(size?.people).toBe(people);
  expect(line?.at(-1)?.people).toBe(size?.people);
  expect(line).not.toEqual(before[0]);
  await everybody.kept();
});
