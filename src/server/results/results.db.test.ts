import type { Goal } from '@/core/campaigns/campaign';
import { DAY_MS } from '@/core/time/day';
import { insertCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { insertSegment } from '../db/segments';
import type { Site } from '../db/sites';
import { createSite } from '../db/sites';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { loadMet, loadSplits } from './load';
import { periodOf } from './report';
import { countShowings, noteSight } from '../db/showings';
import { loadWays } from './ways';

let database: FreshDatabase;
let site: Site;
const MET = Date.parse('2026-11-10T10:00:00Z');
const NOW = Date.parse('2026-11-20T10:00:00Z');
const EVENT: Goal = { kind: 'event', event: 'booking', days: 3 };

beforeEach(async () => {
  database = await freshDatabase();
  site = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
  await database.pool.query(`select add_partitions('2026-11-01'::date)`);
});
afterEach(() => database.drop());

const run = (sql: string, ...values: unknown[]) => database.pool.query(sql, values);

interface Who {
  readonly team?: boolean;
  readonly device?: string;
  readonly country?: string;
}
let numbered = 0;
/** A visitor with one visit of one page, at the first meeting. */
async function visitor({ team = false, device = 'desktop', country = 'AT' }: Who = {}, at = MET) {
  const id = ++numbered;
  const [visit, view] = [newUuid(), newUuid()];
  await run(
    `insert into visitor (site_id, id, browser_id, team, device_category, first_seen, last_seen) values ($1, $2, $3, $4, $5, at_ms($6), at_ms($6))`,
    site.id,
    id,
    newUuid(),
    team,
    device,
    at,
  );
  await run(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel, country) values ($1, $2, $3, at_ms($4), at_ms($4), 'email', $5)`,
    site.id,
    visit,
    id,
    at,
    country,
  );
  await run(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url) values ($1, $2, $3, $4, at_ms($5), 'https://site.example/huts/moss?x=1')`,
    site.id,
    view,
    visit,
    id,
    at,
  );
  return { id, visit, view };
}
async function showing(
  { id, visit, view }: Awaited<ReturnType<typeof visitor>>,
  {
    at = MET,
    shown = true,
    variant = null,
    opened = false,
    campaign = 'camp',
  }: { at?: number; shown?: boolean; variant?: string | null; opened?: boolean; campaign?: string } = {},
): Promise<string> {
  const showingId = newUuid();
  await run(
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release, shown, variant, opened)
     values ($1, $2, $3, $4, $5, $6, at_ms($7), 1, $8, $9, $10)`,
    site.id,
    showingId,
    campaign,
    id,
    visit,
    view,
    at,
    shown,
    variant,
    opened,
  );
  return showingId;
}
const event = ({ id, visit, view }: Awaited<ReturnType<typeof visitor>>, at: number, props: object = {}, name = 'booking') =>
  run(
    `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props) values ($1, $2, $3, $4, $5, at_ms($6), $7, $8)`,
    site.id,
    newUuid(),
    visit,
    view,
    id,
    at,
    name,
    props,
  );
const met = (goal: Goal = EVENT, more: Partial<Parameters<typeof loadMet>[2]> = {}) =>
  loadMet(database.pool, site.id, { campaign: 'camp', goal, from: 0, to: NOW, now: NOW, ...more });

test('a visitor counts once, by the first meeting: held back or shown, by its version, whatever comes later', async () => {
  const [held, shown, twice] = [await visitor(), await visitor({ device: 'phone', country: 'DE' }), await visitor()];
  await showing(held, { shown: false });
  await showing(shown, { variant: 'A' });
  await showing(twice, { variant: 'A', at: MET + 5 });
  await showing(twice, { variant: 'B', at: MET + DAY_MS });
  expect(await met()).toMatchObject([
    { visitor: held.id, dealt: 'nothing', shown: false, met: MET, page: '/huts/moss', channel: 'email' },
    { visitor: shown.id, dealt: 'A', shown: true, device: 'phone', country: 'DE' },
    { visitor: twice.id, dealt: 'A', met: MET + 5 },
  ]);
});

test('what stands in the page is shown once it comes into sight, and was met and dealt all the same before', async () => {
  const never = await showing(await visitor(), { at: Date.now() });
  const later = await showing(await visitor(), { at: Date.now() });
  await run(`update showing set unseen = true where id = any($1::uuid[])`, [never, later]);
  const seen = async () =>
    (await loadMet(database.pool, site.id, { campaign: 'camp', goal: EVENT, from: 0, to: Date.now() + 1000, now: Date.now() + 1000 })).map(
      ({ dealt, shown }) => [dealt, shown],
    );
  expect(await seen()).toEqual([
    ['shown', false],
    ['shown', false],
  ]);
  await noteSight(database.pool, site.id, later);
  expect(await seen()).toEqual([
    ['shown', false],
    ['shown', true],
  ]);
  expect(await countShowings(database.pool, site.id, 30)).toEqual([expect.objectContaining({ triggered: 2, shown: 1 })]);
});

test('neither the team, nor what was asked for, nor another campaign is in it', async () => {
  const [ours, asked, other] = [await visitor({ team: true }), await visitor(), await visitor()];
  await showing(ours);
  await showing(asked, { opened: true });
  await showing(other, { campaign: 'another' });
  expect(await met()).toEqual([]);
});

test('a period has those who first met in it: its beginning belongs to it, its end does not', async () => {
  const [early, first, last, late] = [await visitor(), await visitor(), await visitor(), await visitor()];
  const [from, to] = [MET, MET + DAY_MS];
  await showing(early, { at: from - 1 });
  await showing(early, { at: from + 1 });
  await showing(first, { at: from });
  await showing(last, { at: to - 1 });
  await showing(late, { at: to });
  expect((await met(EVENT, { from, to })).map(({ visitor: id }) => id)).toEqual([first.id, last.id]);
});

test.each([
  ['at the very instant', 0, true],
  ['before the meeting', -1, false],
  ['after exactly its days', 3 * DAY_MS, true],
  ['a millisecond too late', 3 * DAY_MS + 1, false],
])('a success %s', async (_what, after, counts) => {
  const one = await visitor();
  await showing(one);
  await event(one, MET + after);
  expect((await met())[0]?.success).toBe(counts ? MET + after : null);
});

test('the first success counts, also when it came late or twice, with the value of its event', async () => {
  const goal: Goal = { ...EVENT, where: [{ key: 'hut', test: { op: 'is', value: 'moss' } }], value: { prop: 'price' } };
  const one = await visitor();
  await showing(one);
  await event(one, MET + 3000, { hut: 'moss', price: 80 });
  await event(one, MET + 2000, { hut: 'moss', price: 120 });
  await event(one, MET + 1000, { hut: 'ferry', price: 999 });
  await event(one, MET + 500, { hut: 'moss', price: 'much' }, 'another');
  expect(await met(goal)).toMatchObject([{ success: MET + 2000, value: 120 }]);
  // A number that is none is no value, and what is not known yet is not known.
  expect(await met({ ...goal, value: { prop: 'hut' } })).toMatchObject([{ success: MET + 2000, value: null }]);
  expect(await met(goal, { now: MET + 1500 })).toMatchObject([{ success: null }]);
  expect(await met({ ...goal, value: 15 })).toMatchObject([{ value: 15 }]);
});

test('a page reached, a form sent and a reply are successes of their goals', async () => {
  const one = await visitor();
  const shown = await showing(one);
  await run(
    `insert into page_view (site_id, id, visit_id, visitor_id, at, url) values ($1, $2, $3, $4, at_ms($5), 'https://site.example/book/done')`,
    site.id,
    newUuid(),
    one.visit,
    one.id,
    MET + 60_000,
  );
  await run(
    `insert into lead (site_id, id, campaign_id, showing_id, visitor_id, at, url) values ($1, $2, 'camp', $3, $4, at_ms($5), 'x')`,
    site.id,
    newUuid(),
    shown,
    one.id,
    MET + 70_000,
  );
  await run(
    `insert into outcome (site_id, showing_id, kind, at) values ($1, $2, 'replied', at_ms($3)), ($1, $2, 'dismissed', at_ms($3))`,
    site.id,
    shown,
    MET + 80_000,
  );
  expect(await met({ kind: 'page', pages: [{ op: 'is', value: '/book/done' }], days: 1 })).toMatchObject([{ success: MET + 60_000 }]);
  expect(await met({ kind: 'page', pages: [{ op: 'is', value: '/book' }], days: 1 })).toMatchObject([{ success: null }]);
  expect(await met({ kind: 'form', value: 3 })).toMatchObject([
    { success: MET + 70_000, value: 3, engaged: true, sent: true, dismissed: 'unknown' },
  ]);
  expect(await met({ kind: 'reply' })).toMatchObject([{ success: MET + 80_000, value: null }]);
  // What was typed is kept no longer than somebody wants: that it was sent is counted all the same.
  await run(`delete from lead where site_id = $1`, site.id);
  expect(await met({ kind: 'form', value: 3 })).toMatchObject([{ success: MET + 70_000, value: 3, engaged: true, sent: true }]);
  expect((await loadWays(database.pool, site.id, { campaign: 'camp', from: MET, to: NOW })).map(({ ending }) => ending)).toEqual(['sent']);
});

test('what they were is what they were by the first meeting', async () => {
  const one = await visitor();
  await showing(one);
  await run(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, at_ms($4), at_ms($4), 'direct')`,
    site.id,
    newUuid(),
    one.id,
    MET + DAY_MS,
  );
  const identify = (at: number) =>
    run(
      `insert into visitor_change (site_id, visitor_id, at, kind, key, value, id) values ($1, $2, at_ms($3), 'identity', 'email', '"a@b.example"', $4)`,
      site.id,
      one.id,
      at,
      newUuid(),
    );
  await identify(MET + 1);
  expect(await met()).toMatchObject([{ known: false, returning: false }]);
  await identify(MET);
  await run(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, at_ms($4), at_ms($4), 'direct')`,
    site.id,
    newUuid(),
    one.id,
    MET - DAY_MS,
  );
  // As the collector writes it where an earlier visit comes to be known.
  await run(`update visitor set first_seen = at_ms($3) where site_id = $1 and id = $2`, site.id, one.id, MET - DAY_MS);
  expect(await met()).toMatchObject([{ known: true, returning: true, channel: 'email' }]);
  await insertSegment(database.pool, {
    siteId: site.id,
    id: 'seg',
    name: 'Back',
    lookback: 30,
    people: { kind: 'visits', times: { min: 2 } },
  });
  await insertSegment(database.pool, {
    siteId: site.id,
    id: 'more',
    name: 'More',
    lookback: 30,
    people: { kind: 'visits', times: { min: 3 } },
  });
  expect(await met(EVENT, { segment: 'seg' })).toMatchObject([{ inSegment: true }]);
  expect(await met(EVENT, { segment: 'more' })).toMatchObject([{ inSegment: false }]);
});

test('releases tell what each dealt out, and when the campaign became another', async () => {
  const document = (holdout: number, text: string) => ({
    name: 'Camp',
    goal: EVENT,
    rule: {},
    holdout,
    flow: {
      start: 'a',
      messages: [
        {
          id: 'a',
          format: 'popup' as const,
          blocks: [{ kind: 'heading' as const, text }],
          closes: { button: true, dim: true, escape: true },
        },
      ],
    },
  });
  await withTransaction(database.pool, (tx) =>
    insertCampaign(tx, { siteId: site.id, id: 'camp', document: document(0.2, 'One'), status: 'live' }),
  );
  const release = () => publish(database.pool, { siteId: site.id, memberId: null, name: '', note: '' });
  await release();
  await release();
  await run(`update campaign set holdout = 0.5, goal = $2 where site_id = $1`, site.id, { ...EVENT, days: 5 });
  await release();
  const { splits, marks, goalChangedAt } = await loadSplits(database.pool, site.id, 'camp');
  expect([...splits]).toEqual([
    [1, { holdout: 0.2 }],
    [2, { holdout: 0.2 }],
    [3, { holdout: 0.5 }],
  ]);
  expect(marks.map(({ number }) => number)).toEqual([1, 3]);
  expect(goalChangedAt).toBe(marks[1]?.at);
});

test('comparing begins anew with another message, rule or goal, and goes on through changed shares and a pause', async () => {
  const closes = { button: true, dim: true, escape: true };
  const document = {
    name: 'Camp',
    goal: EVENT,
    rule: {},
    holdout: 0.2,
    flow: { start: 'a', messages: [{ id: 'a', format: 'popup' as const, blocks: [{ kind: 'heading' as const, text: 'One' }], closes }] },
  };
  await withTransaction(database.pool, (tx) => insertCampaign(tx, { siteId: site.id, id: 'camp', document, status: 'live' }));
  const release = () => publish(database.pool, { siteId: site.id, memberId: null, name: '', note: '' });
  const change = (set: string) => run(`update campaign set ${set} where site_id = $1`, site.id);
  await release();
  await change(`holdout = 0.5`);
  await release();
  await change(`status = 'paused'`);
  await release();
  await change(`status = 'live'`);
  await release();
  await change(`rule = '{"moment": {"all": [{"kind": "delay", "seconds": 5}]}}'`);
  await release();
  await change(`flow = jsonb_set(flow, '{messages,0,blocks,0,text}', '"Two"')`);
  await release();
  await change(`goal = jsonb_set(goal, '{days}', '9')`);
  await release();
  const { starts, marks } = await loadSplits(database.pool, site.id, 'camp');
  expect(starts.map(({ number }) => number)).toEqual([1, 5, 6, 7]);
  expect(marks.map(({ number }) => number)).toEqual([1, 2, 3, 4, 5, 6, 7]);
  const now = Date.now() + 1000;
  const at = (number: number) => starts.find((one) => one.number === number)?.at;
  expect(periodOf({}, { starts }, now)).toEqual({ from: at(7), to: now, since: 7, looks: 'always' });
  expect(periodOf({ since: 1 }, { starts }, now)).toEqual({ from: at(1), to: at(5), since: 1, looks: 'always' });
  // Not one of them: what holds by itself.
  expect(periodOf({ since: 2 }, { starts }, now)).toMatchObject({ since: 7 });
  // As of an earlier instant what came later is not known.
  expect(periodOf({}, { starts }, (at(5) ?? 0) + 0.5)).toMatchObject({ since: 5 });
  expect(periodOf({ from: 5 }, { starts }, now)).toEqual({ from: 5, to: now, since: null, looks: 'once' });
  expect(periodOf({}, { starts: [] }, now)).toEqual({ from: 0, to: now, since: null, looks: 'always' });
});

test('showings are counted by the ways they went through the messages, and by how they ended; what was asked for and the team are not', async () => {
  const step = (id: string, message: string, at: number) =>
    run(`insert into flow_step (site_id, showing_id, at, message) values ($1, $2, at_ms($3), $4)`, site.id, id, MET + at, message);
  const outcome = (id: string, kind: string, how: string | null = null) =>
    run(`insert into outcome (site_id, showing_id, kind, at, how) values ($1, $2, $3, at_ms($4), $5)`, site.id, id, kind, MET + 9000, how);
  const [asked, sent, closed, pressed] = [
    await showing(await visitor(), { opened: true }),
    await showing(await visitor()),
    await showing(await visitor()),
    await showing(await visitor(), { variant: 'b' }),
  ];
  await showing(await visitor({ team: true }));
  await showing(await visitor(), { shown: false });
  await showing(await visitor());
  // Written in another order than seen.
  await step(sent, 'third', 2000);
  await step(sent, 'second', 1000);
  await step(closed, 'second', 1000);
  await step(asked, 'second', 1000);
  await outcome(sent, 'clicked');
  await run(
    `insert into lead (site_id, id, campaign_id, showing_id, at, url) values ($1, $2, 'camp', $3, at_ms($4), 'http://x/')`,
    site.id,
    newUuid(),
    sent,
    MET + 9500,
  );
  await outcome(closed, 'clicked');
  await outcome(closed, 'dismissed', 'escape');
  await outcome(pressed, 'clicked');
  expect(await loadWays(database.pool, site.id, { campaign: 'camp', from: MET, to: MET + 1 })).toEqual([
    { variant: null, path: [], ending: 'left', showings: 1 },
    { variant: 'b', path: [], ending: 'pressed', showings: 1 },
    { variant: null, path: ['second'], ending: 'dismissed', showings: 1 },
    { variant: null, path: ['second', 'third'], ending: 'sent', showings: 1 },
  ]);
  expect(await loadWays(database.pool, site.id, { campaign: 'camp', from: MET + 1, to: NOW })).toEqual([]);
});
