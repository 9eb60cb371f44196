import { judgeByAnswers, unpackAnswers } from '@/core/rehearsal/answers';
import { decodeColumns } from '@/core/rehearsal/encode';
import { rehearse } from '@/core/rehearsal/rehearse';
import { judgeEveryone } from '@/core/counting/countPeople';
import type { PeopleCondition } from '@/core/people/condition';
import { DAY_MS } from '@/core/time/day';
import { seedDemo } from '@/demo/seed';
import { insertSegment } from '../db/segments';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { one } from '../db/queryable';
import { ReadSide } from '../db/readSide';
import { Memories } from './memories';
import { SiteMemory } from './site';
import type { AnswerTo, Task } from './task';
import { work } from './work';

let database: FreshDatabase;
beforeAll(async () => {
  database = await freshDatabase();
  // What happened or was stored just now is read again for some seconds; this was hours ago.
  await seedDemo(database.pool, { visits: 300, addresses: ['127.0.0.1:4704'], now: Date.now() - 3 * 3_600_000, log: () => undefined });
  await database.pool.query(`update visitor set touched_at = now() - interval '1 hour'`);
});
afterAll(() => database.drop());
afterEach(() => jest.restoreAllMocks());

async function ask<T extends Task>(memory: SiteMemory, task: T): Promise<AnswerTo<T>> {
  let last: AnswerTo<Task> | undefined;
  for await (const part of work(memory, task)) last = part ?? last;
  return last as AnswerTo<T>;
}

test('what is counted is read again only where something has come or has been saved', async () => {
  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  // The seconds that go by here stay within one day: with another one the days are others.
  let now = Math.min(Date.now(), (Math.floor(Date.now() / DAY_MS) + 1) * DAY_MS - 60_000);
  jest.spyOn(Date, 'now').mockImplementation(() => now);
  const later = async () => {
    now += 5000;
    return memory.counting();
  };
  const people = { lookback: 30, people: { kind: 'tagged' as const, tag: 'seen-later' } };
  const members = (input: Awaited<ReturnType<typeof later>>): number => judgeEveryone(people, input).filter((value) => value === 1).length;
  const first = await memory.counting();
  const quiet = await later();
  expect([quiet.days === first.days, quiet.now - first.now]).toEqual([true, 5000]);
  expect(members(quiet)).toBe(0);

  await database.pool.query(
    `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values (1, 3, at_ms($1), 'tag', 'seen-later', 'true', gen_random_uuid())`,
    [now],
  );
  // By the database's clock, which goes on.
  await database.pool.query(`update visitor set touched_at = clock_timestamp() where id = 3`);
  expect(members(await later())).toBe(1);

  const before = await later();
  await insertSegment(database.pool, { siteId: 1, id: 'seg_new', name: 'New', lookback: 30, people: people.people });
  const after = await later();
  expect([before.known.segments['seg_new'], after.known.segments['seg_new']]).toEqual([undefined, people]);
});

test('under a small budget sites and days that were used least are forgotten, and read again', async () => {
  const other = (
    await one<{ id: number }>(database.pool, `insert into site (key, name, addresses) values ('othersite1', 'Other', '{}') returning id`)
  ).id;
  const memories = new Memories(() => Promise.resolve(new ReadSide(database.pool)), 1);
  const first = await memories.of(1);
  const sizes = await ask(first, { kind: 'sizes', site: 1, segments: [{ lookback: 90, people: { all: [] } }] });
  for (const days of [90, 30] as const) await first.stage(days);
  const before = first.bytes;
  memories.trim();
  expect([memories.sites, (await memories.of(1)) === first, first.bytes < before]).toEqual([[1], true, true]);
  expect(first.forgetSome()).toBeUndefined();
  await (await memories.of(other)).counting();
  memories.trim();
  expect(memories.sites).toEqual([other]);
  expect(await ask(await memories.of(1), { kind: 'sizes', site: 1, segments: [{ lookback: 90, people: { all: [] } }] })).toEqual(sizes);
  expect(sizes[0]?.people).toBeGreaterThan(10);
});

test('what is sent of the visits and of the people rehearses as the server does', async () => {
  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  const { snapshot, columns, ids } = await ask(memory, { kind: 'recorded', site: 1, days: 90 });
  if (!columns || !ids) throw new Error('the visits of the demo are not too many');
  const people: PeopleCondition = { kind: 'segment', id: 'seg_comparing' };
  const told = await ask(memory, { kind: 'answers', site: 1, days: 90, snapshot, conditions: [people] });
  expect(told).toMatchObject({ isHere: true, answers: [expect.any(Uint8Array)] });
  const rule = { people, moment: { kind: 'exit' as const } };
  const decoded = await decodeColumns(columns);
  const judge = judgeByAnswers(new Map([[JSON.stringify(people), await unpackAnswers(told.answers[0] as Uint8Array)]]));
  const showings = rehearse({ columns: decoded, judge, sets: told.sets, campaigns: [{ id: 'c', place: 'overlay', rule }] });
  const server = await ask(memory, { kind: 'rehearse', site: 1, days: 90, live: [], campaign: { id: 'c', place: 'overlay', rule } });
  expect(showings.length).toBeGreaterThan(5);
  expect([showings.length, decoded.visitAt.length]).toEqual([server.sure, server.visits]);
  expect(await ask(memory, { kind: 'answers', site: 1, days: 90, snapshot: '90-1', conditions: [people] })).toMatchObject({
    isHere: false,
    answers: [],
  });
});
