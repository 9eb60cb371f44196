import { many, one } from '@/server/db/queryable';
import { ReadSide } from '@/server/db/readSide';
import { judgeEveryone } from '@/core/counting/countPeople';
import { SiteMemory } from '@/server/analysis/site';
import { listVisits } from '@/server/db/visits';
import { listLeads } from '@/server/db/leads';
import type { FreshDatabase } from '@/server/testing/freshDatabase';
import { freshDatabase } from '@/server/testing/freshDatabase';
import { seedDemo } from './seed';

const VISITS = 1500;
let database: FreshDatabase;
const seed = (addresses: string[]) => seedDemo(database.pool, { visits: VISITS, addresses, now: Date.now(), log: () => undefined });

beforeAll(async () => {
  database = await freshDatabase();
  await seed(['127.0.0.1:4704']);
});
afterAll(() => database.drop());

test('the demo is loaded once; a second time only its addresses follow the ports', async () => {
  await seed(['127.0.0.1:9999']);
  expect(await many(database.pool, `select addresses, (select count(*)::int from visit) as visits from site`)).toEqual([
    { addresses: ['127.0.0.1:9999'], visits: VISITS },
  ]);
});

test('what a load left that was broken off is taken away, and the demo is loaded whole', async () => {
  const broken = await freshDatabase();
  try {
    const load = () => seedDemo(broken.pool, { visits: 30, addresses: ['127.0.0.1:4704'], now: Date.now(), log: () => undefined });
    await load();
    // As it was before its last step.
    await broken.pool.query(`update site set key = key || 'loading'`);
    await load();
    const left = await many(
      broken.pool,
      `select key, (select count(*)::int from visit) as visits, (select count(*)::int from page_view where site_id <> site.id) as views,
              (select count(*)::int from member) as members from site`,
    );
    expect(left).toEqual([{ key: 'tarnhollowdemo', visits: 30, views: 0, members: 2 }]);
  } finally {
    await broken.drop();
  }
});

test('visitors are numbered without a gap', async () => {
  const { n, most } = await one<{ n: number; most: number }>(database.pool, `select count(*)::int as n, max(id) as most from visitor`);
  expect(most).toBe(n);
});

test('a segment counts the same visitors as SQL over the raw rows', async () => {
  const now = Date.now();
  const people = { kind: 'viewed' as const, pages: [{ op: 'starts' as const, value: '/huts/' }], times: { min: 2 } };
  const judged = judgeEveryone({ lookback: 30, people }, await new SiteMemory(new ReadSide(database.pool), 1).counting());
  const members = [...judged].flatMap((value, id) => (value === 1 ? [id] : []));
  const counted = members.length;
  const rows = await many<{ visitor_id: number }>(
    database.pool,
    `select visitor_id from page_view where url ~ '^https?://[^/]+/huts/.' and at > at_ms($1) - interval '30 days' and at <= at_ms($1)
      group by visitor_id having count(*) >= 2 order by visitor_id`,
    [now],
  );
  expect(members).toEqual(rows.map((row) => row.visitor_id));
  expect(counted).toBeGreaterThan(0);
});

test('visits come with their page views, signals and showings, newest first', async () => {
  const visits = await listVisits(database.pool, 1, { limit: 20 });
  expect(visits).toHaveLength(20);
  expect(visits.every(({ at }, index) => at <= (visits[index - 1]?.at ?? Infinity))).toBe(true);
  expect(visits.every(({ views }) => views.length > 0)).toBe(true);
  const older = await listVisits(database.pool, 1, { limit: 20, before: visits.at(-1)?.at ?? 0 });
  expect(older[0]?.at).toBeLessThan(visits.at(-1)?.at ?? 0);
  // What was reported with an event stays where it is.
  const { visit } = await one<{ visit: string }>(
    database.pool,
    `select visit_id as visit from signal_piece join page_view on page_view.site_id = signal_piece.site_id and page_view.id = view_id
      where signals @> '[{"s": "event"}]' and signals::text like '%"props"%' limit 1`,
  );
  const signals = (await listVisits(database.pool, 1, { limit: 1, visitIds: [visit] })).flatMap(({ views }) =>
    views.flatMap((view) => view.signals),
  );
  expect(signals.some(({ s }) => s === 'event')).toBe(true);
  expect(signals.some((signal) => 'props' in signal)).toBe(false);
});

test('every lead belongs to a converted showing', async () => {
  const leads = await listLeads(database.pool, 1, { limit: 100_000 });
  const { converted } = await one<{ converted: number }>(
    database.pool,
    `select count(*)::int as converted from lead join outcome o on o.showing_id = lead.showing_id and o.kind = 'converted' and o.at = lead.at`,
  );
  expect(leads.length).toBeGreaterThan(0);
  expect(leads).toHaveLength(converted);
  expect((await listLeads(database.pool, 1, { terms: [{ kind: 'text', value: leads[0]?.email ?? 'none' }] })).length).toBe(
    leads.length ? 1 : 0,
  );
});

// What the collector would have written, asked of the raw rows: the last showing within three days before each booking.
test('a goal counts for recorded visits as for live ones', async () => {
  const owed = await many<{ id: string }>(
    database.pool,
    `select distinct owed.id from event join lateral (
       select id from showing where visitor_id = event.visitor_id and campaign_id = 'camp_offer' and at <= event.at and at > event.at - interval '3 days'
        order by at desc limit 1) owed on true
      where event.name = 'booking' order by 1`,
  );
  const counted = await many<{ id: string }>(
    database.pool,
    `select showing.id from showing join outcome on outcome.showing_id = showing.id and kind = 'converted'
      where campaign_id = 'camp_offer' order by 1`,
  );
  expect(owed.length).toBeGreaterThan(0);
  expect(counted).toEqual(owed);
});
