import { createHash } from 'node:crypto';
import { many, one } from '../db/queryable';
import { setEventsSecret } from '../db/sites';
import { Directory } from '../db/directory';
import { nodePool } from '../db/pool';
import { insertCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { createSite } from '../db/sites';
import { takeServerEvents } from './serverEvents';

const NOW = Date.parse('2026-11-20T12:00:00Z');
const HOUR = 3_600_000;
let database: FreshDatabase;
let directory: Directory;
let site: number;
const [phone, desk] = [newUuid(), newUuid()];
beforeEach(async () => {
  database = await freshDatabase();
  directory = new Directory(database.pool, (url) => nodePool(url));
  await database.pool.query(`select add_partitions('2026-11-01'::date)`);
  site = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: [] })).id;
  await setEventsSecret(database.pool, site, createHash('sha256').update('s3cret').digest());
  // The same person on two devices; the desk was there last.
  for (const [id, browser, ago] of [
    [1, phone, 30],
    [2, desk, 3],
  ] as const) {
    await database.pool.query(
      `insert into visitor (site_id, id, browser_id, email, customer_id, first_seen, last_seen) values ($1, $2, $3, 'Anna@post.example', $4, at_ms($5), at_ms($5))`,
      [site, id, browser, `c${id}`, NOW - ago * HOUR],
    );
    const visit = newUuid();
    await database.pool.query(
      `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, at_ms($4), at_ms($4), 'direct')`,
      [site, visit, id, NOW - ago * HOUR],
    );
    await database.pool.query(
      `insert into page_view (site_id, id, visit_id, visitor_id, at, url) values ($1, $2, $3, $4, at_ms($5), 'https://site.example/')`,
      [site, newUuid(), visit, id, NOW - ago * HOUR],
    );
  }
});
afterEach(async () => {
  await directory.end();
  await database.drop();
});
const take = (events: unknown, { key = 'sitekey123', secret = 'Bearer s3cret' } = {}) =>
  takeServerEvents(directory, {
    key,
    authorization: secret,
    body: typeof events === 'string' ? events : JSON.stringify({ events }),
    now: NOW,
  });
const event = (more: object = {}) => ({
  id: 'order-1',
  email: 'anna@post.example',
  event: 'booking',
  props: { value: 68 },
  at: NOW - HOUR,
  ...more,
});
const stored = () => many(database.pool, `select visitor_id as visitor, name, props, ms(at)::float8 as at from event order by at, name`);

test('an event is written to who was there last before it, by email, customer id or browser, and the same id is the same event', async () => {
  const given = [
    event(),
    event({ id: 'order-2', email: undefined, customer: 'c1', at: new Date(NOW - 2 * HOUR).toISOString() }),
    event({ id: 'order-3', email: undefined, browser: phone, event: 'call', props: undefined }),
    // Before the desk was there.
    event({ id: 'order-4', at: NOW - 20 * HOUR, event: 'return' }),
  ];
  expect(await take(given)).toEqual({ status: 200, events: given.map(() => ({ ok: true, isNew: true })) });
  const rows = [
    { visitor: 1, name: 'return', props: { value: 68 }, at: NOW - 20 * HOUR },
    { visitor: 1, name: 'booking', props: { value: 68 }, at: NOW - 2 * HOUR },
    { visitor: 2, name: 'booking', props: { value: 68 }, at: NOW - HOUR },
    { visitor: 1, name: 'call', props: {}, at: NOW - HOUR },
  ];
  expect(await stored()).toEqual(rows);
  const both = await Promise.all([take(given), take(given)]);
  expect(both.flatMap((one) => (one.status === 200 ? one.events : []))).toEqual(
    Array.from({ length: 8 }, () => ({ ok: true, isNew: false })),
  );
  expect(await stored()).toEqual(rows);
});

test('who does not know the secret is told nothing of the site, and bad events are answered for themselves', async () => {
  for (const given of [{ secret: 'Bearer wrong' }, { secret: '' }, { key: 'nosuchsite' }])
    expect(await take([event()], given)).toMatchObject({ status: 403, code: 'events.secret' });
  expect(await take('no json')).toMatchObject({ status: 400, code: 'events.malformed' });
  expect(await take([])).toMatchObject({ status: 400 });
  expect(await take(Array.from({ length: 501 }, () => event()))).toMatchObject({ status: 400 });
  const answer = await take([
    event({ id: 'ok' }),
    event({ id: 'two', customer: 'c1' }),
    event({ id: 'none', email: undefined }),
    event({ id: 'later', at: NOW + HOUR }),
    event({ id: 'who', email: 'nobody@post.example' }),
    event({ id: 'before', at: NOW - 100 * HOUR }),
    event({ id: 'poison', props: { ['a\u0000b']: 'x\ud800' } }),
    event({ id: 'at', at: 'yesterday' }),
    7,
  ]);
  expect(answer.status === 200 && answer.events.map((one) => (one.ok ? 'ok' : one.code))).toEqual([
    'ok',
    'event.malformed',
    'event.malformed',
    'event.ahead',
    'visitor.unknown',
    'visitor.unknown',
    'ok',
    'event.malformed',
    'event.malformed',
  ]);
  expect(await stored()).toHaveLength(2);
});

test('what a live campaign counts as success is counted for it, within its days', async () => {
  await withTransaction(database.pool, (tx) =>
    insertCampaign(tx, {
      siteId: site,
      id: 'camp',
      status: 'live',
      document: {
        name: 'Camp',
        goal: { kind: 'event', event: 'booking', days: 1, where: [{ key: 'value', test: { op: 'range', min: 50 } }] },
        rule: {},
        flow: {
          start: 'a',
          messages: [
            { id: 'a', format: 'popup', blocks: [{ kind: 'heading', text: 'x' }], closes: { button: true, dim: true, escape: true } },
          ],
        },
      },
    }),
  );
  await publish(database.pool, { siteId: site, memberId: null, name: '', note: '' });
  const showing = newUuid();
  await database.pool.query(
    `insert into showing (site_id, id, campaign_id, visitor_id, visit_id, view_id, at, release)
     select $1, $2, 'camp', 2, visit.id, page_view.id, visit.started_at, 1 from visit join page_view on visit_id = visit.id where visit.visitor_id = 2`,
    [site, showing],
  );
  const conversions = () => many(database.pool, `select ms(at)::float8 as at from outcome where kind = 'converted'`);
  await take([event({ id: 'small', props: { value: 20 } }), event({ id: 'other', event: 'call' })]);
  expect(await conversions()).toEqual([]);
  await take([event({ id: 'large' })]);
  expect(await conversions()).toEqual([{ at: NOW - HOUR }]);
  // Whoever counts reads it again.
  expect(await one(database.pool, `select touched_at > now() - interval '1 minute' as is from visitor where id = 2`)).toEqual({ is: true });
});
