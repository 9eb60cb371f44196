import { createHmac } from 'node:crypto';
import type { FastifyInstance } from 'fastify';
import type { BatchAnswer } from '@/core/wire/items';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { visitorAt } from '@/core/history/record';
import type { Weather } from '@/core/history/visitor';
import { insertCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { many, one } from '../db/queryable';
import type { Site } from '../db/sites';
import { createSite, encryptSigning, listFaults, listRefusals, setSigning } from '../db/sites';
import { loadVisitors } from '../db/visitors';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid, openItem, pieceItem, showingItem } from '../testing/items';
import { workerTask } from '../testing/workerTask';
import { parts } from '../testing/collectorUnderTest';
import { createCollector } from './server';

const DESKTOP = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36';
const weather: Weather = { is: 'snow', celsius: -3 };
let database: FreshDatabase;
let site: Site;
let server: FastifyInstance;
let asked = 0;

const document: CampaignDocument = {
  name: 'Snow',
  goal: { kind: 'form' },
  rule: {
    people: {
      all: [
        { kind: 'weather', is: ['snow'] },
        { kind: 'tagged', tag: 'family' },
      ],
    },
    moment: { kind: 'exit' },
  },
  flow: {
    start: 'a',
    messages: [
      {
        id: 'a',
        format: 'popup',
        blocks: [{ kind: 'text', text: 'Hello {first name, or you} in {city}' }],
        closes: { button: true, dim: true, escape: true },
      },
    ],
  },
};

beforeAll(async () => {
  database = await freshDatabase();
  site = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
  await withTransaction(database.pool, (tx) => insertCampaign(tx, { siteId: site.id, id: 'camp_1', document, status: 'live' }));
  await publish(database.pool, { siteId: site.id, memberId: null, name: 'One', note: '' });
  server = await createCollector({
    pool: database.pool,
    parts,
    perMinute: 100_000,
    locate: async () => ({ country: 'AT', city: 'Innsbruck', lat: 47.3, lon: 11.4 }),
    askWeather: async () => {
      asked++;
      return weather;
    },
  });
});
afterAll(async () => {
  await server.close();
  await database.drop();
});

async function post(
  items: unknown[],
  {
    browser = newUuid(),
    headers = {},
    ...rest
  }: { browser?: string; headers?: object; key?: string; now?: number; consent?: boolean } = {},
) {
  const response = await server.inject({
    method: 'POST',
    url: '/c',
    payload: JSON.stringify({ key: 'sitekey123', browser, now: Date.now(), items, ...rest }),
    headers: { 'content-type': 'text/plain', origin: 'http://site.example', 'user-agent': DESKTOP, ...headers },
  });
  return response.json<BatchAnswer>();
}

test('a tag and points mid-page change the facts at once, once each however often they come', async () => {
  const browser = newUuid();
  const open = openItem();
  const first = await post([open], { browser });
  const mark = { kind: 'mark', id: newUuid(), at: Date.now(), tag: 'family', score: 5 };
  const second = await post([mark], { browser });
  await post([mark], { browser });
  expect([first.context?.facts, second.context?.facts]).toEqual([
    [true, false],
    [true, true],
  ]);
  const { id } = await one<{ id: number }>(database.pool, `select id from visitor where browser_id = $1`, [browser]);
  const [stored] = await loadVisitors(database.pool, site.id, [id]);
  expect(stored && visitorAt(stored.record, Date.now())).toMatchObject({ tags: ['family'], score: 5 });
});

test('the weather is asked once a visit and kept with it', async () => {
  const browser = newUuid();
  const before = asked;
  const open = openItem();
  await post([open], { browser });
  await post([openItem({ visit: open.visit, visitAt: open.visitAt })], { browser });
  expect(asked - before).toBe(1);
  expect(await one(database.pool, `select weather from visit where id = $1`, [open.visit])).toEqual({ weather });
});

test('values that messages ask for are told, and no others', async () => {
  const browser = newUuid();
  const { context } = await post(
    [
      openItem(),
      { kind: 'person', id: newUuid(), at: Date.now(), email: 'runa@post.example', traits: { 'First Name': 'Runa', plan: 'family' } },
    ],
    {
      browser,
    },
  );
  expect(context?.values).toEqual({ first_name: 'Runa', city: 'Innsbruck' });
});

test('an empty batch asks what there is to tell; of a browser that nobody knows there is nothing', async () => {
  const browser = newUuid();
  await post([openItem()], { browser });
  const known = await post([], { browser });
  expect(known.context?.release).toMatchObject({ number: 1 });
  expect(known.release).toBe(known.context?.release?.hash);
  expect((await post([])).context).toBeUndefined();
});

test('parameters that are not allowed are dropped before anything is stored', async () => {
  const open = openItem({ url: 'http://site.example/huts?utm_source=letter&token=secret&email=a@b.example' });
  await post([open]);
  expect(
    await one(database.pool, `select url, utm from page_view join visit on visit.id = visit_id where page_view.id = $1`, [open.view]),
  ).toEqual({
    url: 'http://site.example/huts?utm_source=letter',
    utm: { source: 'letter' },
  });
});

test('a browser that asks for privacy leaves no row, until its visitor has agreed', async () => {
  const rows = async () => (await one<{ n: number }>(database.pool, `select count(*)::int as n from page_view`)).n;
  const before = await rows();
  for (const headers of [{ 'sec-gpc': '1' }, { dnt: '1' }]) {
    const { items, context } = await post([openItem()], { headers });
    expect([items[0], context]).toMatchObject([{ ok: false, code: 'consent.missing' }, undefined]);
  }
  expect(await rows()).toBe(before);
  expect((await post([openItem()], { headers: { 'sec-gpc': '1' }, consent: true })).items).toEqual([{ ok: true }]);
  expect(await rows()).toBe(before + 1);
  expect((await listRefusals(database.pool, site.id)).map(({ reason, times }) => [reason, times])).toContainEqual(['consent', 2]);
});

test('a site that asks first keeps nothing of those who have not agreed', async () => {
  const asking = await createSite(database.pool, { key: 'asking1234', name: 'Asking', addresses: ['site.example'] });
  await database.pool.query(`update site set consent = 'asked' where id = $1`, [asking.id]);
  expect((await post([openItem()], { key: 'asking1234' })).items[0]).toMatchObject({ ok: false });
  expect((await post([openItem()], { key: 'asking1234', consent: true })).items[0]).toEqual({ ok: true });
});

test('a key that is no site’s is told to whoever has that address, as it was written; on foreign pages to nobody', async () => {
  const send = (origin: string) =>
    server.inject({
      method: 'POST',
      url: '/c',
      headers: { origin, 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/130.0 Safari/537.36' },
      payload: JSON.stringify({ key: 'sitekey132', browser: newUuid(), now: Date.now(), items: [] }),
    });
  expect([(await send('http://site.example')).statusCode, (await send('http://elsewhere.example')).statusCode]).toEqual([404, 404]);
  expect((await listRefusals(database.pool, site.id)).filter(({ reason }) => reason === 'key')).toMatchObject([
    { subject: 'sitekey132', times: 1 },
  ]);
});

test('faults of the script are counted, without who met them', async () => {
  const fault = () => ({ kind: 'fault', id: newUuid(), at: Date.now(), entry: 'twice', message: 'The script is on the page twice' });
  const again = fault();
  for (const one of [fault(), fault(), again, again, again]) expect((await post([one])).items).toEqual([{ ok: true }]);
  expect(await listFaults(database.pool, site.id)).toMatchObject([{ entry: 'twice', times: 3 }]);
});

test('a variant, a holdout and what was opened by hand are told apart, and what was opened by hand is not paced', async () => {
  const browser = newUuid();
  const open = openItem();
  const base = showingItem(open);
  const { context } = await post(
    [
      open,
      { ...base, id: newUuid(), variant: 'b' },
      { ...base, id: newUuid(), shown: false },
      { ...base, id: newUuid(), opened: true },
      { ...openItem({ visit: open.visit }) },
    ],
    { browser },
  );
  expect(
    await many(database.pool, `select shown, variant, opened from showing where view_id = $1 order by variant nulls last, shown, opened`, [
      open.view,
    ]),
  ).toEqual([
    { shown: true, variant: 'b', opened: false },
    { shown: false, variant: null, opened: false },
    { shown: true, variant: null, opened: true },
  ]);
  expect(context?.pacing.campaigns[base.campaign]?.shown).toBe(2);
});

test('many requests at once are written together; one that is refused takes nobody with it', async () => {
  const opens = Array.from({ length: 60 }, () => openItem());
  const answers = await Promise.all(
    opens.map((open, index) =>
      post(
        index % 10 === 3
          ? [{ ...pieceItem(open), view: newUuid() }]
          : index % 10 === 7
            ? [open, { kind: 'nonsense' }]
            : [open, pieceItem(open), pieceItem(open)],
      ),
    ),
  );
  expect(answers.map(({ items }) => items.map((item) => (item.ok ? 'ok' : item.code)).join())).toEqual(
    opens.map((_, index) => (index % 10 === 3 ? 'view.unknown' : index % 10 === 7 ? 'ok,item.shape' : 'ok,ok,ok')),
  );
  const { text } = { text: (await server.inject({ url: '/metrics' })).body };
  const groups = Number(/crindle_group_items_count (\d+)/.exec(text)?.[1]);
  const items = Number(/crindle_group_items_sum (\d+)/.exec(text)?.[1]);
  expect(items / groups).toBeGreaterThan(1.3);
});

test('two sites and two browsers in one group stay apart, and a browser is one visitor however its opens are cut', async () => {
  const other = await createSite(database.pool, { key: 'other12345', name: 'Other', addresses: ['site.example'] });
  const browser = newUuid();
  const all = Array.from({ length: 8 }, () => openItem());
  await Promise.all(all.map((open, index) => post([open], { browser, key: index % 2 ? 'other12345' : 'sitekey123' })));
  expect(
    await many(
      database.pool,
      `select site_id as site, count(distinct visitor_id)::int as visitors, count(*)::int as views from page_view where id = any($1) group by 1 order by 1`,
      [all.map(({ view }) => view)],
    ),
  ).toEqual([
    { site: site.id, visitors: 1, views: 4 },
    { site: other.id, visitors: 1, views: 4 },
  ]);
});

test('a zero character in a text is left out, and costs nothing else', async () => {
  const open = openItem({ title: 'Zero\u0000 in the title' });
  expect((await post([open])).items).toEqual([{ ok: true }]);
  expect(await one(database.pool, `select title from page_view where id = $1`, [open.view])).toEqual({ title: 'Zero in the title' });
});

test('metrics are in Prometheus’ text format, and an item says what became of it', async () => {
  const reply = await server.inject({ url: '/metrics' });
  expect(reply.headers['content-type']).toContain('text/plain');
  expect(reply.body).toMatch(/^# TYPE crindle_items_total counter$/m);
  expect(reply.body).toMatch(/^crindle_items_total\{kind="open",outcome="written"\} \d+$/m);
  expect(reply.body).toMatch(/^crindle_items_total\{kind="piece",outcome="refused"\} \d+$/m);
});

test('a visit without activity for half an hour is closed with what it came to, and a late piece opens it again', async () => {
  const at = Date.now() - 2 * 3_600_000;
  const open = openItem({ at, visitAt: at });
  const browser = newUuid();
  await post([open, pieceItem(open)], { browser });
  const close = () => workerTask('close-visits', database.pool);
  const stored = () =>
    one(database.pool, `select closed_at is not null as closed, views, engaged_ms from visit where id = $1`, [open.visit]);
  await close();
  expect(await stored()).toEqual({ closed: true, views: 1, engaged_ms: 5000 });
  await post([{ ...pieceItem(open), piece: 1, engaged: 9000 }], { browser });
  expect(await stored()).toMatchObject({ closed: false });
  await close();
  expect(await stored()).toEqual({ closed: true, views: 1, engaged_ms: 9000 });
});

test('where the site signs who its visitors are, nobody can say it by themselves; a form’s own email counts all the same', async () => {
  const signed = await createSite(database.pool, { key: 'signedkey1', name: 'Signed', addresses: ['site.example'] });
  process.env['CRINDLE_SECRET_KEY'] ??= Buffer.alloc(32, 7).toString('base64');
  await setSigning(database.pool, signed.id, { secret: 'kept on the server', isRequired: true });
  const kept = async () =>
    (await database.pool.query<{ secret: string }>(`select person_secret as secret from site where id = $1`, [signed.id])).rows[0]?.secret;
  expect(await kept()).not.toContain('kept on the server');
  // One of before it was encrypted is, as soon as somebody looks.
  await database.pool.query(`update site set person_secret = 'kept on the server' where id = $1`, [signed.id]);
  expect([await encryptSigning(database.pool), await encryptSigning(database.pool)]).toEqual([1, 0]);
  expect(await kept()).toMatch(/^encrypted:/);
  const browser = newUuid();
  const open = openItem();
  const say = async (item: object) =>
    (await post([{ kind: 'person', id: newUuid(), at: Date.now(), ...item }], { browser, key: 'signedkey1' })).items[0];
  await post([open], { browser, key: 'signedkey1' });
  const email = 'walker@post.example';
  expect(await say({ email })).toMatchObject({
    ok: false,
    code: 'person.unsigned',
    message: expect.stringContaining('met none') as string,
  });
  const known = () =>
    one<{ email: string | null; id: string | null }>(database.pool, `select email, customer_id as id from visitor where browser_id = $1`, [
      browser,
    ]);
  expect(await known()).toEqual({ email: null, id: null });
  const signature = createHmac('sha256', 'kept on the server').update(`m-17\n${email}`).digest('hex');
  expect(await say({ email: 'other@post.example', customerId: 'm-17', signature })).toMatchObject({ ok: false });
  expect(await say({ email, customerId: 'm-17', signature })).toEqual({ ok: true });
  expect(await known()).toEqual({ email, id: 'm-17' });
  expect(await say({ traits: { plan: 'summit' } })).toEqual({ ok: true });
  const refusals = await listRefusals(database.pool, signed.id);
  expect(refusals.filter(({ reason }) => reason === 'person').reduce((sum, { times }) => sum + times, 0)).toBe(2);
});

test('what the collector counts is told on this machine and to whoever has the token, and to nobody else', async () => {
  const ask = async (to: FastifyInstance, headers: Record<string, string>, remoteAddress = '127.0.0.1') =>
    (await to.inject({ url: '/metrics', headers, remoteAddress })).statusCode;
  expect(await ask(server, {})).toBe(200);
  expect(await ask(server, {}, '192.0.2.7')).toBe(404);
  expect(await ask(server, { 'x-forwarded-for': '192.0.2.7' })).toBe(404);
  const other = await createCollector({ pool: database.pool, parts, perMinute: 100, metricsToken: 'sesame' });
  expect(await ask(other, { authorization: 'Bearer sesame' }, '192.0.2.7')).toBe(200);
  expect(await ask(other, { authorization: 'Bearer sesam' })).toBe(404);
  expect(await ask(other, {})).toBe(404);
  await other.close();
});
