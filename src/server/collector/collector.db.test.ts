import type { FastifyInstance } from 'fastify';
import type { BatchAnswer } from '@/core/wire/items';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { visitorAt } from '@/core/history/record';
import { insertCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { one } from '../db/queryable';
import type { Site } from '../db/sites';
import { createSite, listRefusals } from '../db/sites';
import { loadVisitors } from '../db/visitors';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid, openItem, pieceItem, showingItem } from '../testing/items';
import { parts } from '../testing/collectorUnderTest';
import { createCollector } from './server';

const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
let database: FreshDatabase;
let site: Site;
let server: FastifyInstance;
/** By how much the collector's clock is ahead, in ms. */
let ahead = 0;

beforeAll(async () => {
  database = await freshDatabase();
  site = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
  server = await createCollector({ pool: database.pool, parts, perMinute: 100_000, clock: () => Date.now() + ahead });
});
afterAll(async () => {
  await server.close();
  await database.drop();
});

interface Asked {
  body?: unknown;
  raw?: string;
  origin?: string;
  agent?: string;
}

async function post({ body, raw, origin = 'http://site.example', agent = DESKTOP }: Asked) {
  const response = await server.inject({
    method: 'POST',
    url: '/c',
    payload: raw ?? JSON.stringify(body),
    headers: { 'content-type': 'text/plain', origin, 'user-agent': agent },
  });
  return { status: response.statusCode, answer: response.json<BatchAnswer & { error?: { code: string; message: string } }>() };
}

const batch = (items: unknown[], browser = newUuid(), now = Date.now()) => ({ key: 'sitekey123', browser, now, items });
const count = async (table: string): Promise<number> =>
  (await one<{ n: number }>(database.pool, `select count(*)::int as n from ${table}`)).n;

test('a page open makes visitor, visit and page view, with device and source', async () => {
  const open = openItem({ url: 'http://site.example/huts?utm_medium=email', language: 'de-AT', zone: 'Europe/Vienna' });
  const { status, answer } = await post({ body: batch([open, pieceItem(open)]) });
  expect({ status, items: answer.items }).toEqual({ status: 200, items: [{ ok: true }, { ok: true }] });
  const [stored] = await loadVisitors(database.pool, site.id, [1]);
  expect(stored && visitorAt(stored.record, Date.now())).toMatchObject({
    known: false,
    language: 'de-AT',
    zone: 'Europe/Vienna',
    device: { category: 'desktop', os: 'Linux', browser: 'Chrome' },
  });
  expect(stored?.record.visits).toMatchObject([{ source: { channel: 'email' }, views: [{ url: open.url, engaged: 5, scroll: 40 }] }]);
});

test('the same request again changes nothing', async () => {
  const open = openItem();
  const showing = showingItem(open);
  const body = batch([
    open,
    pieceItem(open),
    showing,
    { kind: 'event', id: newUuid(), view: open.view, visit: open.visit, at: open.at, name: 'booking', props: { value: 3 } },
    {
      kind: 'form',
      id: newUuid(),
      view: open.view,
      visit: open.visit,
      showing: showing.id,
      campaign: 'camp_1',
      at: open.at,
      url: open.url,
      email: 'a@b.example',
      fields: { email: 'a@b.example' },
    },
  ]);
  await post({ body });
  const tables = ['visitor', 'visit', 'page_view', 'signal_piece', 'event', 'showing', 'outcome', 'lead', 'visitor_change'];
  const before = await Promise.all(tables.map(count));
  const { answer } = await post({ body });
  expect(answer.items.every(({ ok }) => ok)).toBe(true);
  expect(await Promise.all(tables.map(count))).toEqual(before);
});

test('first page views of one browser sent at once make one visitor, and what was reserved for them in vain is dealt to the next', async () => {
  const dealt = () =>
    one<{ visitors: number; most: number; counter: number }>(
      database.pool,
      `select count(*)::int as visitors, max(id) as most, (select visitors from site where id = $1) as counter from visitor where site_id = $1`,
      [site.id],
    );
  const before = await dealt();
  const browser = newUuid();
  const answers = await Promise.all(Array.from({ length: 8 }, () => post({ body: batch([openItem()], browser) })));
  expect(answers.map(({ status }) => status)).toEqual(Array(8).fill(200));
  const { visitors, counter } = await dealt();
  expect(visitors).toBe(before.visitors + 1);
  // How many were reserved hangs on which of them came together.
  for (let more = visitors; more < counter; more++) await post({ body: batch([openItem()]) });
  expect(await dealt()).toEqual({ visitors: counter, most: counter, counter });
});

test.each<{ what: string; asked: Asked; status: number; code: string; says: RegExp }>([
  { what: 'malformed JSON', asked: { raw: '{"key":' }, status: 400, code: 'body.notJson', says: /not JSON/ },
  { what: 'an empty body', asked: { raw: '' }, status: 400, code: 'body.notJson', says: /not JSON/ },
  { what: 'a body of 10 MB', asked: { raw: 'x'.repeat(10_000_000) }, status: 413, code: 'body.tooLarge', says: /larger than 256 KB/ },
  {
    what: 'a batch of another shape',
    asked: { body: { key: 'sitekey123', items: 'all' } },
    status: 400,
    code: 'body.shape',
    says: /browser: met nothing.*items: met "all"/,
  },
  { what: 'a wrong key', asked: { body: { ...batch([]), key: 'nobody' } }, status: 404, code: 'site.unknown', says: /nobody/ },
  {
    what: 'a foreign origin',
    asked: { body: batch([openItem()]), origin: 'http://elsewhere.example' },
    status: 403,
    code: 'site.address',
    says: /elsewhere\.example is not one of the addresses/,
  },
])('$what is refused with a clear message and stores nothing', async ({ asked, status, code, says }) => {
  const before = await count('page_view');
  const { status: met, answer } = await post(asked);
  expect({ status: met, code: answer.error?.code }).toEqual({ status, code });
  expect(answer.error?.message).toMatch(says);
  expect(JSON.stringify(answer)).not.toMatch(/\bat .*\.(ts|mjs):\d/);
  expect(await count('page_view')).toBe(before);
});

test('what was turned away is counted for the check of the installation', async () => {
  await post({ body: batch([openItem()]), origin: 'http://staging.example' });
  await post({ body: batch([openItem()]), agent: 'Mozilla/5.0 (compatible; Googlebot/2.1; +http://www.google.com/bot.html)' });
  const refusals = await listRefusals(database.pool, site.id);
  expect(refusals).toEqual(
    expect.arrayContaining([
      expect.objectContaining({ reason: 'address', subject: 'staging.example', times: 1 }),
      expect.objectContaining({ reason: 'robot', times: 1 }),
    ]),
  );
});

test('a bad item does not take its neighbours with it, and says which field is wrong', async () => {
  const open = openItem();
  const { answer } = await post({
    body: batch([open, { ...pieceItem(open), signals: [{ t: -5, s: 'input' }] }, pieceItem(open, { piece: 1 }), pieceItem(openItem())]),
  });
  expect(answer.items).toMatchObject([
    { ok: true },
    { ok: false, code: 'item.shape', message: expect.stringContaining('signals.0.t: met -5') as string },
    { ok: true },
    { ok: false, code: 'view.unknown' },
  ]);
});

test('a visit cannot be taken over by another browser', async () => {
  const open = openItem();
  await post({ body: batch([open]) });
  const { answer } = await post({ body: batch([openItem({ visit: open.visit })]) });
  expect(answer.items[0]).toMatchObject({ ok: false, code: 'visit.foreign' });
});

test('a clock an hour wrong is set right', async () => {
  const wrong = Date.now() + 3_600_000;
  const open = openItem({ at: wrong, visitAt: wrong });
  await post({ body: batch([open], newUuid(), wrong) });
  const { off } = await one<{ off: number }>(
    database.pool,
    `select abs(extract(epoch from at - now()))::float8 as off from page_view where id = $1`,
    [open.view],
  );
  expect(off).toBeLessThan(5);
});

test('hostile texts are stored as they are', async () => {
  const title = `'); drop table lead; -- \u{1f3d4} مرحبا ${'x'.repeat(400)}`;
  const open = openItem({ title });
  expect((await post({ body: batch([open]) })).answer.items).toEqual([{ ok: true }]);
  expect(await one(database.pool, `select title from page_view where id = $1`, [open.view])).toEqual({ title });
});

describe('with a release', () => {
  const document: CampaignDocument = {
    name: 'Quiet weeks',
    goal: { kind: 'event', event: 'booking', days: 3 },
    rule: { people: { kind: 'viewed', pages: [{ op: 'like', value: '/huts/*' }], times: { min: 2 } }, moment: { kind: 'exit' } },
    flow: { start: 'first', messages: [{ id: 'first', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }] },
  };
  beforeAll(async () => {
    await withTransaction(database.pool, (tx) => insertCampaign(tx, { siteId: site.id, id: 'camp_1', document, status: 'live' }));
    await publish(database.pool, { siteId: site.id, memberId: null, name: 'One', note: '' });
    ahead += 1001; // The collector remembers a site for a second.
  });

  test('facts count the page view that asks', async () => {
    const browser = newUuid();
    const first = await post({ body: batch([openItem()], browser) });
    const second = await post({ body: batch([openItem({ url: 'http://site.example/huts/lantern-col' })], browser) });
    expect([first.answer.context?.facts, second.answer.context?.facts]).toEqual([[false], [true]]);
    expect(second.answer.context?.release).toMatchObject({ number: 1 });
  });

  test('the release is served under its hash for ever, and another hash is not found', async () => {
    const { answer } = await post({ body: batch([openItem()]) });
    const served = await server.inject({ url: `/r/sitekey123/${answer.context?.release?.hash}` });
    expect(served.headers['cache-control']).toContain('immutable');
    expect(served.json()).toMatchObject({ number: 1, campaigns: [{ id: 'camp_1', people: { kind: 'fact', index: 0 } }] });
    expect((await server.inject({ url: '/r/sitekey123/unknown' })).statusCode).toBe(404);
  });

  test('an event that is the goal converts the last showing once, and pacing is told', async () => {
    const browser = newUuid();
    const open = openItem();
    const showing = showingItem(open);
    const event = () => ({
      kind: 'event',
      id: newUuid(),
      view: open.view,
      visit: open.visit,
      at: open.at + 9000,
      name: 'booking',
      props: {},
    });
    const { answer } = await post({ body: batch([open, showing, event(), event()], browser) });
    expect(answer.context?.pacing.campaigns).toEqual({ camp_1: { shown: 1, dismissed: 0, converted: 1, lastAt: showing.at } });
  });

  test('an event before the showing converts nothing', async () => {
    const open = openItem();
    const event = { kind: 'event', id: newUuid(), view: open.view, visit: open.visit, at: open.at, name: 'booking', props: {} };
    const { answer } = await post({ body: batch([open, showingItem(open), event]) });
    expect(answer.context?.pacing.campaigns['camp_1']?.converted).toBe(0);
  });
});

test('too many requests from one address are told to wait', async () => {
  const slow = await createCollector({ pool: database.pool, parts, perMinute: 3 });
  const statuses: number[] = [];
  for (let index = 0; index < 5; index++)
    statuses.push(
      (
        await slow.inject({
          method: 'POST',
          url: '/c',
          payload: JSON.stringify(batch([])),
          headers: { origin: 'http://site.example', 'user-agent': DESKTOP },
        })
      ).statusCode,
    );
  await slow.close();
  expect(statuses).toEqual([200, 200, 200, 429, 429]);
});
