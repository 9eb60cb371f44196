import fc from 'fast-check';
import type { DayPostings } from '@/core/counting/postings';
import { judgeEveryone } from '@/core/counting/countPeople';
import { countingNeeds } from '@/core/counting/needs';
import { visitorAt } from '@/core/history/record';
import { peopleHold } from '@/core/people/condition';
import { NOW, people, visitor } from '@/core/rules/testing/arbitrary';
import { withTransaction } from '../db/pool';
import { createSite } from '../db/sites';
import { insertSegment } from '../db/segments';
import { eachChunk } from '../db/visitors';
import { importVisitor } from '../exchange/importVisits';
import { one } from '../db/queryable';
import type { FreshDatabase } from '../testing/freshDatabase';
import { eventually } from '../testing/eventually';
import { freshDatabase } from '../testing/freshDatabase';
import { lineOf } from '../testing/lineOf';
import { countByLists, loadCounting } from './countByLists';
import { judgeBySql } from './countBySql';
import { loadDays, loadPages, sealPastDays } from './lists';
import { sliceDays } from './slices';

let database: FreshDatabase;
let siteId: number;
const VISITORS = 60;
const SEGMENTS = 150;
const seed = Number(process.env['FAST_CHECK_SEED'] ?? 20261125);

beforeAll(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
  for (const [index, who] of fc.sample(visitor, { numRuns: VISITORS, seed }).entries())
    await importVisitor(database.pool, siteId, lineOf(who, index));
  await insertSegment(database.pool, {
    siteId,
    id: 'saved',
    name: 'Saved',
    lookback: 7,
    people: { kind: 'viewed', pages: [{ op: 'like', value: '/huts/**' }] },
  });
});
afterAll(() => database.drop());

test(`lists, SQL and the evaluator agree on every visitor (seed ${seed})`, async () => {
  const input = await loadCounting(database.pool, siteId, NOW);
  const records = [];
  for await (const chunk of eachChunk(database.pool, siteId)) records.push(...chunk);
  const asked = fc.sample(fc.record({ people, lookback: fc.constantFrom(1, 7, 30, 540) }), { numRuns: SEGMENTS, seed });
  const segments = [
    ...asked,
    ...asked.slice(0, 10).map((segment) => ({ ...segment, people: { all: [segment.people, { kind: 'segment' as const, id: 'saved' }] } })),
  ];
  let [held, unknown, sliced] = [0, 0, 0];
  for (const segment of segments) {
    const evaluated = records.map(({ id, record }) => ({
      visitor: id,
      holds: peopleHold(segment.people, { visitor: visitorAt(record, NOW), now: NOW, lookback: segment.lookback, ...input.known }),
    }));
    const listed = judgeEveryone(segment, input);
    const asJson = JSON.stringify(segment);
    expect({ asJson, values: evaluated.map((row) => ({ ...row, holds: [false, true, null][listed[row.visitor] as number] })) }).toEqual({
      asJson,
      values: evaluated,
    });
    const needs = countingNeeds(segment, input.known.segments);
    const sparing = judgeEveryone(segment, await loadCounting(database.pool, siteId, NOW, needs));
    expect({ asJson, values: [...sparing] }).toEqual({ asJson, values: [...listed] });
    if (needs.patterns) sliced++;
    expect({ asJson, values: await judgeBySql(database.pool, siteId, segment, NOW) }).toEqual({ asJson, values: evaluated });
    held += evaluated.filter(({ holds }) => holds === true).length;
    unknown += evaluated.filter(({ holds }) => holds === null).length;
  }
  // The sample says something only if it holds some of each.
  expect(held).toBeGreaterThan(500);
  expect(unknown).toBeGreaterThan(100);
  expect(sliced).toBeGreaterThan(5);
}, 180_000);

test('past days are sealed once, and a late view opens its day again', async () => {
  expect(await sealPastDays(database.pool, siteId, NOW)).toBe(0);
  const { before } = await one<{ before: number }>(database.pool, `select sum(views)::int as before from sealed_day where site_id = $1`, [
    siteId,
  ]);
  const segment = { lookback: 540, people: { kind: 'viewed' as const, times: { min: 1 } } };
  const { people: counted } = await countByLists(database.pool, siteId, segment, NOW);
  const [late] = fc.sample(visitor, { numRuns: 1, seed: seed + 1 });
  if (late) await importVisitor(database.pool, siteId, lineOf(late, 9999));
  expect((await countByLists(database.pool, siteId, segment, NOW)).people).toBe(counted + 1);
  const { after } = await one<{ after: number }>(database.pool, `select sum(views)::int as after from sealed_day where site_id = $1`, [
    siteId,
  ]);
  expect(after).toBeGreaterThan(before);
});

test('slices of sealed days hold the views of the pages wanted, and no others', async () => {
  const whole = await loadDays(database.pool, siteId, NOW);
  const wanted = (await loadPages(database.pool, siteId)).map((_, page) => page % 3 === 1 || page % 7 === 2);
  const rowsOf = (days: readonly DayPostings[]) =>
    days.flatMap((day) =>
      [...day.pages].flatMap((page, nth) =>
        Array.from({ length: (day.offsets[nth + 1] as number) - (day.offsets[nth] as number) }, (_, index) => {
          const row = (day.offsets[nth] as number) + index;
          return wanted[page] ? `${page} ${day.visitors[row]} ${day.dayStart + (day.instants[row] as number)}` : [];
        }).flat(),
      ),
    );
  const sealed = whole.filter(({ dayStart }) => dayStart < NOW - (NOW % 86_400_000));
  const slices = await sliceDays(database.pool, siteId, wanted);
  expect(rowsOf(sealed).length).toBeGreaterThan(20);
  expect(rowsOf(slices)).toEqual(rowsOf(sealed));
  expect(slices.flatMap(({ pages }) => [...pages]).every((page) => wanted[page])).toBe(true);
});

const isWaiting = async (): Promise<number> =>
  (
    await one<{ waiting: number }>(
      database.pool,
      `select count(*)::int as waiting from pg_locks where locktype = 'advisory' and not granted
          and database = (select oid from pg_database where datname = current_database())`,
    )
  ).waiting;

test('a view that is being written while its day is sealed opens the day again', async () => {
  const { pool } = database;
  await pool.query(`delete from sealed_day where site_id = $1`, [siteId]);
  let sealing: Promise<number> | undefined;
  await withTransaction(pool, async (tx) => {
    await tx.query(`update page_view set scroll = 100 - scroll where site_id = $1`, [siteId]);
    sealing = sealPastDays(pool, siteId, NOW);
    // The sealer waits for this transaction's lock on the first of the days.
    await eventually(async () => (await isWaiting()) !== 0, 'the sealer waits for the writer');
  });
  await sealing;
  const { scrolled } = await one<{ scrolled: number }>(
    pool,
    `select sum(scroll)::int as scrolled from page_view where site_id = $1 and at < at_ms($2)`,
    [siteId, NOW - (NOW % 86_400_000)],
  );
  const sealed = (await loadDays(pool, siteId, NOW)).filter(({ dayStart }) => dayStart < NOW - (NOW % 86_400_000));
  expect(sealed.reduce((sum, { scrolls }) => sum + scrolls.reduce((all, scroll) => all + scroll, 0), 0)).toBe(scrolled);
});

test('days after the instant that is asked about are not counted, sealed or not', async () => {
  const segment = { lookback: 540, people: { kind: 'viewed' as const, times: { min: 1 } } };
  const earlier = NOW - 20 * 86_400_000;
  await sealPastDays(database.pool, siteId, NOW + 10 * 86_400_000);
  const asked = await countByLists(database.pool, siteId, segment, earlier);
  const { people } = await one<{ people: number }>(
    database.pool,
    `select count(distinct visitor_id)::int as people from page_view where site_id = $1 and at <= at_ms($2)`,
    [siteId, earlier],
  );
  expect(asked.people).toBe(people);
  expect(people).toBeGreaterThan(0);
  expect((await countByLists(database.pool, siteId, segment, NOW)).people).toBeGreaterThan(people);
});

test('at an earlier instant what came later does not count', async () => {
  const segment = { lookback: 540, people: { kind: 'viewed' as const, times: { min: 1 } } };
  expect((await countByLists(database.pool, siteId, segment, NOW - 400 * 86_400_000)).people).toBe(0);
});
