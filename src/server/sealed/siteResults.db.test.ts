import type { Goal, SiteGoal } from '@/core/campaigns/campaign';
import type { Exposure } from '@/core/results/report';
import { DAY_MS } from '@/core/time/day';
import { seedDemo } from '@/demo/seed';
import { SiteMemory } from '../analysis/site';
import { listCampaigns } from '../db/campaigns';
import { many, one } from '../db/queryable';
import { insertSegment } from '../db/segments';
import { ReadSide } from '../db/readSide';
import { loadMet } from '../results/load';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { recordedDays } from './days';
import { sealVisits } from './seal';
import type { ForetoldDay } from '@/core/results/foretold';
import { work } from '../analysis/work';
import { findCurrentRelease } from '../db/releases';

let database: FreshDatabase;
let now: number;
beforeAll(async () => {
  database = await freshDatabase();
  now = Date.now();
  await seedDemo(database.pool, { visits: 900, addresses: ['127.0.0.1:4704'], now: now - 3 * 3_600_000, log: () => undefined });
  // Some never came into sight.
  await database.pool.query(`update showing set unseen = true where get_byte(uuid_send(id), 15) % 4 = 0`);
  await database.pool.query(`update late_day set at = at - interval '1 hour'`);
  await database.pool.query(`update visitor set touched_at = now() - interval '1 hour'`);
});
afterAll(() => database.drop());

/** What cannot be reached in the demo's campaigns is asked of one of them as well. */
const GOALS: readonly Goal[] = [
  { kind: 'form', value: 3 },
  { kind: 'reply' },
  { kind: 'page', pages: [{ set: 'set_booking' }], days: 2 },
  { kind: 'page', pages: [{ op: 'like', value: '/huts/*' }], days: 0.01 },
  { kind: 'event', event: 'booking', days: 7, value: { prop: 'value' } },
  { kind: 'event', event: 'booking', days: 30, where: [{ key: 'value', test: { op: 'range', min: 100 } }] },
];
const sorted = (met: readonly Exposure[]) => met.map((visitor) => JSON.stringify(visitor, Object.keys(visitor).sort())).sort();

/** By columns and by raw rows the same visitors, for every campaign and kind of goal. Gives how many there were, and how many succeeded. */
async function expectEqual(memory = new SiteMemory(new ReadSide(database.pool), 1)): Promise<[met: number, successes: number]> {
  let [met, successes] = [0, 0];
  for (const { id, goal } of await listCampaigns(database.pool, 1)) {
    for (const [nth, asked] of [goal, ...GOALS].entries()) {
      const period = {
        from: nth === 2 ? now - 30 * DAY_MS : 0,
        to: nth === 3 ? now - 10 * DAY_MS : now,
        now: nth === 4 ? now - 5 * DAY_MS : now,
      };
      const segment = nth === 0 ? 'seg_readers' : undefined;
      const expected = await loadMet(database.pool, 1, { campaign: id, goal: asked, segment, ...period });
      const found = await memory.met({ campaign: id, goal: asked, segment, ...period });
      expect({ id, nth, met: sorted(found) }).toEqual({ id, nth, met: sorted(expected) });
      met += expected.length;
      successes += expected.filter(({ success }) => success !== null).length;
    }
  }
  return [met, successes];
}

test('columns give the visitors that the raw rows give: open days, sealed days, and what came late', async () => {
  const open = await expectEqual();
  expect(open[0]).toBeGreaterThan(500);
  expect(open[1]).toBeGreaterThan(100);

  await sealVisits(new ReadSide(database.pool), 1, { now: now + 1000, graceMs: 0, quietMs: 0 });
  const sealed = (await recordedDays(database.pool, 1)).filter(({ isWhole }) => isWhole);
  expect(sealed.length).toBeGreaterThan(50);
  expect(await expectEqual()).toEqual(open);

  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  await memory.met({ campaign: 'camp_packing', goal: { kind: 'form' }, from: 0, to: now, now });
  const late = await one<{ id: string; visitor: number; visit: string }>(
    database.pool,
    `select showing.id, visitor_id as visitor, visit_id as visit from showing where campaign_id = 'camp_packing' and shown
        and not exists (select from lead where lead.visitor_id = showing.visitor_id)
        and not exists (select from outcome where showing_id = showing.id) order by at limit 1`,
  );
  await database.pool.query(
    `insert into outcome (site_id, showing_id, kind, at, how) select 1, id, 'dismissed', at + interval '2 seconds', 'escape' from showing where id = $1`,
    [late.id],
  );
  await database.pool.query(
    `insert into lead (site_id, id, campaign_id, showing_id, visitor_id, at, url)
     select 1, $2, campaign_id, id, visitor_id, at + interval '1 day', 'http://x/' from showing where id = $1`,
    [late.id, newUuid()],
  );
  // Some of them come into sight long after their day was sealed.
  await database.pool.query(`update showing set unseen = false where unseen and get_byte(uuid_send(id), 14) % 2 = 0`);
  // What many of them typed is not kept any more.
  await database.pool.query(`delete from lead where get_byte(uuid_send(id), 15) % 2 = 0`);
  // An earlier visit, which makes them somebody who has come again; and who they were by then.
  await database.pool.query(
    `with earlier as (insert into visit (site_id, id, visitor_id, started_at, last_at, channel)
       select 1, $2, visitor_id, started_at - interval '1 hour', started_at - interval '59 minutes', channel from visit where id = $1 returning visitor_id, started_at)
     update visitor set first_seen = earlier.started_at from earlier where visitor.site_id = 1 and visitor.id = earlier.visitor_id`,
    [late.visit, newUuid()],
  );
  await database.pool.query(
    `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id)
     select 1, visitor_id, at - interval '1 minute', 'identity', 'email', '"a@b.example"', $2 from showing where id = $1`,
    [late.id, newUuid()],
  );
  await database.pool.query(`update visitor set touched_at = clock_timestamp() where id = $1`, [late.visitor]);
  // What is kept is some seconds old at most.
  const later = Date.now() + 5000;
  jest.spyOn(Date, 'now').mockReturnValue(later);
  expect((await expectEqual(memory))[1]).toBeGreaterThan(open[1]);
  jest.restoreAllMocks();
});

test('visitors who have said the same email are one person, dealt what the first of them was dealt', async () => {
  const all = await many<{ id: number; at: number }>(
    database.pool,
    `select visitor_id as id, ms(min(at))::float8 as at from showing where campaign_id = 'camp_basket' group by 1 order by 2`,
  );
  // The one who met it first is not the one whose number stands for both.
  const [first, second] = all.flatMap((one, nth) => {
    const other = all.slice(nth + 1).find(({ id }) => id < one.id);
    return other ? [one, other] : [];
  });
  if (!first || !second) throw new Error('Nobody met it');
  await insertSegment(database.pool, {
    siteId: 1,
    id: 'seg_first',
    name: 'First',
    lookback: 540,
    people: { kind: 'tagged', tag: 'first-only' },
  });
  await database.pool.query(
    `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values (1, $1, at_ms($2), 'tag', 'first-only', 'true', gen_random_uuid())`,
    [first.id, first.at - 1000],
  );
  await database.pool.query(`update visitor set touched_at = clock_timestamp() where site_id = 1 and id = $1`, [first.id]);
  const asked = { campaign: 'camp_basket', goal: GOALS[4] as Goal, from: 0, to: now, now, segment: 'seg_first' };
  const met = async () => new SiteMemory(new ReadSide(database.pool), 1).met(asked);
  const before = await met();
  const [one, other] = [first, second].map(({ id }) => before.find(({ visitor }) => visitor === id));
  for (const [{ id }, email] of [
    [first, 'Same@post.example'],
    [second, 'same@post.example'],
  ] as const) {
    await database.pool.query(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values (1, $1, at_ms($2), 'identity', 'email', to_jsonb($3::text), gen_random_uuid())`,
      [id, now - 1000, email],
    );
    await database.pool.query(`update visitor set email = $2, touched_at = clock_timestamp() where site_id = 1 and id = $1`, [id, email]);
  }
  const after = await met();
  expect(after).toHaveLength(before.length - 1);
  const person = Math.min(first.id, second.id);
  const merged = after.find(({ visitor }) => visitor === person);
  expect(merged).toMatchObject({ met: first.at, dealt: one?.dealt, device: one?.device, inSegment: true });
  expect(sorted(after)).toEqual(sorted(await loadMet(database.pool, 1, asked)));
  expect(merged?.shown).toBe(one?.shown === true || other?.shown === true);
  await expectEqual();
});

test('what the release in force gives over recorded days is what came', async () => {
  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  const released = (await findCurrentRelease(database.pool, 1))?.source?.campaigns ?? [];
  expect(released.length).toBeGreaterThan(5);
  let [foretold, came] = [0, 0];
  for (const { id } of released) {
    let days: readonly ForetoldDay[] = [];
    for await (const part of work(memory, { kind: 'foretold', site: 1, campaign: id, days: 30, zone: 'Europe/Vienna' }))
      days = (part as readonly ForetoldDay[] | undefined) ?? days;
    const sum = (of: 'rehearsed' | 'met') => days.reduce((so, day) => so + day[of], 0);
    foretold += sum('rehearsed');
    came += sum('met');
    expect({ id, isNear: Math.abs(sum('rehearsed') - sum('met')) <= 0.02 * sum('met') + 1 }).toEqual({ id, isNear: true });
    // The day under way and the one in which the rehearsed visits begin are no whole days.
    expect(days.length).toBeLessThan(30);
  }
  expect(came).toBeGreaterThan(200);
  expect(Math.abs(foretold - came)).toBeLessThan(0.01 * came);
});

test('how often a goal was reached, and by how many, is what the raw rows say', async () => {
  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  const since = now - 20 * DAY_MS;
  const tell = async (goal: SiteGoal) => {
    const { quarters, visitors } = await memory.reached({ kind: 'reached', site: 1, goal, since, now });
    return { times: quarters.reduce((sum, [, times]) => sum + times, 0), visitors };
  };
  const events = (more: string) =>
    one<{ times: number; visitors: number }>(
      database.pool,
      `select count(*)::int as times, count(distinct visitor_id)::int as visitors from event join visitor on visitor.site_id = 1 and visitor.id = visitor_id
        where event.site_id = 1 and not team and name = 'booking' and at >= at_ms($1) ${more}`,
      [since],
    );
  const booked = await tell({ kind: 'event', event: 'booking', days: 3 });
  expect(booked).toEqual(await events(''));
  expect(booked.times).toBeGreaterThan(5);
  const large = await tell({ kind: 'event', event: 'booking', days: 3, where: [{ key: 'value', test: { op: 'range', min: 100 } }] });
  expect(large).toEqual(await events(`and (props ->> 'value')::numeric >= 100`));
  expect(large.times).toBeLessThan(booked.times);
  expect(await tell({ kind: 'page', pages: [{ op: 'is', value: '/book/done' }], days: 3 })).toEqual(
    await one(
      database.pool,
      `select count(*)::int as times, count(distinct visitor_id)::int as visitors from page_view join visitor on visitor.site_id = 1 and visitor.id = visitor_id
        where page_view.site_id = 1 and not team and url ~ '^https?://[^/]+/book/done($|[?#])' and at >= at_ms($1)`,
      [since],
    ),
  );
});

test('whoever is erased is in no number, and in nothing that is sealed', async () => {
  const gone = await one<{ id: number }>(
    database.pool,
    `select visitor_id as id from showing where campaign_id = 'camp_packing' order by at limit 1`,
  );
  await database.pool.query(`delete from visitor where site_id = 1 and id = $1`, [gone.id]);
  const memory = new SiteMemory(new ReadSide(database.pool), 1);
  const met = await memory.met({ campaign: 'camp_packing', goal: { kind: 'form' }, from: 0, to: now, now });
  expect(met.length).toBeGreaterThan(20);
  expect(met.some(({ visitor }) => visitor === gone.id)).toBe(false);
  await expectEqual();
});
