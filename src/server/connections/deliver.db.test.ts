import { createHash, createHmac, randomBytes } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import type { FastifyInstance } from 'fastify';
import type { ConnectionBody } from '@/core/connections/kinds';
import { Outbox } from '@/standins/outbox';
import type { HookReceived, MemberReceived } from '@/standins/receivers';
import { LIST_KEY } from '@/standins/receivers';
import { createStandins } from '@/standins/server';
import {
  countFailed,
  deliveriesOfLead,
  deleteConnection,
  insertConnection,
  listConnections,
  listDeliveries,
  listExchanges,
  queueLead,
  sendAgain,
  setConnectionsOfCampaign,
} from '../db/connections';
import { withTransaction } from '../db/pool';
import { many, one } from '../db/queryable';
import { createSite } from '../db/sites';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { boundTo, deliverDue } from './deliver';
import { checkConnection } from './kinds/all';
import { encrypt } from './secrets';

const KEY = `whsec_${randomBytes(24).toString('base64')}`;
const before = { ...process.env };
let database: FreshDatabase;
let siteId: number;
let standins: FastifyInstance;
let outbox: Outbox;
let url: string;
beforeEach(async () => {
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: [] })).id;
  outbox = new Outbox();
  process.env['CRINDLE_MAIL_URL'] = `smtp://127.0.0.1:${await outbox.listen(0, '127.0.0.1')}`;
  standins = createStandins(outbox);
  await standins.listen({ port: 0, host: '127.0.0.1' });
  url = `http://127.0.0.1:${(standins.server.address() as AddressInfo).port}`;
  await database.pool.query(
    `insert into campaign (site_id, id, name, status, position, goal, rule, flow) values ($1, 'camp', 'Packing list', 'live', 1, '{"kind":"form"}', '{}', '{"start":"a","messages":[]}')`,
    [siteId],
  );
});
afterEach(async () => {
  await Promise.all([standins.close(), outbox.close()]);
  await database.drop();
  process.env = { ...before };
});

async function connect(id: string, body: ConnectionBody, secret?: string): Promise<void> {
  await insertConnection(database.pool, siteId, { id, name: id, body, secret: secret ? encrypt(secret, boundTo(siteId, id)) : undefined });
  const all = (await listConnections(database.pool, siteId)).map((one) => ({ id: one.id, mapping: null }));
  await withTransaction(database.pool, (tx) => setConnectionsOfCampaign(tx, siteId, 'camp', all));
}
const hook = (allowPrivate = true) => connect('hook', { kind: 'hook', settings: { url: `${url}/hook`, allowPrivate } }, KEY);
const list = () => connect('list', { kind: 'list', settings: { url, list: 'letters', allowPrivate: true } }, LIST_KEY);

async function lead(email: string | null = 'anna@post.example'): Promise<string> {
  const id = newUuid();
  await withTransaction(database.pool, async (tx) => {
    await tx.query(
      `insert into lead (site_id, id, campaign_id, at, email, url, fields) values ($1, $2, 'camp', '2026-11-27T10:00Z', $3, 'https://site.example/', '{"plan":"A family"}')`,
      [siteId, id, email],
    );
    await queueLead(tx, siteId, { id, campaign: 'camp' });
  });
  return id;
}
let hurried = 0;
/** As the worker does, with a clock that goes on. */
const deliver = (later = 0) => {
  hurried += later;
  return deliverDue(database.pool, { now: () => Date.now() + hurried });
};
beforeEach(() => (hurried = 0));
const fault = (service: string, what: string) =>
  fetch(`${url}/faults/${service}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ fault: what }),
  });
const hooks = async () => (await (await fetch(`${url}/hook.json`)).json()) as HookReceived[];
const members = async () => (await (await fetch(`${url}/lists.json`)).json()) as MemberReceived[];
const states = () => many(database.pool, `select connection_id as to, state, tries from delivery order by 1, 2`);
const MINUTE = 60_000;

test('a lead goes to each connection of its campaign, signed as the scheme says, once, whoever looks at the same time', async () => {
  await hook();
  await list();
  await connect('mail', { kind: 'mail', settings: { to: 'warden@post.example' } });
  const id = await lead();
  expect((await Promise.all([deliver(), deliver(), deliver()])).reduce((sum, sent) => sum + sent)).toBe(3);
  expect(await deliver()).toBe(0);
  const [got, ...more] = await hooks();
  expect(more).toEqual([]);
  const signed = createHmac('sha256', Buffer.from(KEY.slice('whsec_'.length), 'base64'))
    .update(`${got?.id}.${got?.timestamp}.${got?.body}`)
    .digest('base64');
  expect(got?.signature).toBe(`v1,${signed}`);
  expect(JSON.parse(got?.body ?? '')).toMatchObject({
    type: 'lead',
    data: {
      id,
      email: 'anna@post.example',
      at: '2026-11-27T10:00:00.000Z',
      campaign: { name: 'Packing list' },
      fields: { plan: 'A family' },
    },
  });
  expect((await members()).map(({ member, deliveries }) => [member, Object.values(deliveries)])).toEqual([
    [createHash('sha256').update('anna@post.example').digest('hex'), [1]],
  ]);
  expect(outbox.mails.map(({ to, subject }) => [to, subject])).toEqual([['warden@post.example', 'A lead from Packing list']]);
  expect((await deliveriesOfLead(database.pool, siteId, id)).map(({ connection, state }) => [connection, state])).toEqual([
    ['hook', 'sent'],
    ['list', 'sent'],
    ['mail', 'sent'],
  ]);
});

test('a service that is down keeps nobody else up; what waits arrives once it is back, each once', async () => {
  await hook();
  await list();
  await fault('hook', 'error');
  for (let nth = 0; nth < 12; nth++) await lead(`walker${nth}@post.example`);
  expect(await deliver()).toBe(12);
  expect(await members()).toHaveLength(12);
  // After five failures it rests: the others have not even been tried.
  const asked = (await listExchanges(database.pool, siteId, 'hook')).length;
  expect(asked).toBe(5);
  expect(await deliver()).toBe(0);
  expect((await listExchanges(database.pool, siteId, 'hook')).length).toBe(asked);
  expect((await listDeliveries(database.pool, siteId, { connection: 'hook' })).map(({ reason }) => reason).filter(Boolean)).toEqual(
    Array.from({ length: 5 }, () => 'answered 500'),
  );
  await fault('hook', 'none');
  expect(await deliver(90 * MINUTE)).toBe(12);
  const got = await hooks();
  expect(got).toHaveLength(12);
  expect(got.every(({ times }) => times === 1)).toBe(true);
  expect((await states()).every(({ state }) => state === 'sent')).toBe(true);
});

test('what is refused for good is listed with its reason and sent again by hand; a limit is kept to; nonsense is not taken for an answer', async () => {
  await list();
  await fault('lists', 'refused');
  await lead();
  await lead(null);
  expect(await deliver()).toBe(0);
  expect((await listDeliveries(database.pool, siteId, { connection: 'list' })).map(({ state, reason }) => [state, reason]).sort()).toEqual([
    ['failed', 'answered 403'],
    ['failed', 'the lead has no email'],
  ]);
  expect(await countFailed(database.pool, siteId)).toBe(2);
  await fault('lists', 'nonsense');
  expect(await sendAgain(database.pool, siteId, { connection: 'list' })).toBe(2);
  await deliver();
  expect(await members()).toEqual([]);
  await fault('lists', 'limit');
  await deliver(2 * MINUTE);
  // Asked for a minute: nobody asks before.
  const { rests } = await one<{ rests: number }>(
    database.pool,
    `select extract(epoch from rests_until - now())::float8 as rests from connection`,
  );
  expect(rests).toBeGreaterThan(2 * 60);
  await fault('lists', 'none');
  expect(await deliver(MINUTE / 2)).toBe(0);
  expect(await deliver(10 * MINUTE)).toBe(1);
  expect(await members()).toHaveLength(1);
});

test('after three days it has failed for good', async () => {
  await hook();
  await fault('hook', 'error');
  await lead();
  let looks = 0;
  while ((await listDeliveries(database.pool, siteId, { connection: 'hook' }))[0]?.state === 'waiting' && looks++ < 40)
    await deliver(6 * 60 * MINUTE);
  expect((await listDeliveries(database.pool, siteId, { connection: 'hook' }))[0]).toMatchObject({
    state: 'failed',
    reason: 'answered 500',
  });
  expect(looks).toBeGreaterThan(8);
});

test('private networks are refused where the connection does not allow them, and a check says what is wrong', async () => {
  await hook(false);
  await lead();
  await deliver();
  expect((await listDeliveries(database.pool, siteId, { connection: 'hook' }))[0]?.reason).toMatch(
    /on this machine or in a private network/,
  );
  const check = (body: ConnectionBody, secret?: string) => checkConnection(body, { secret, now: Date.now() });
  const settings = { url, list: 'letters', allowPrivate: true };
  expect(await check({ kind: 'list', settings }, LIST_KEY)).toMatchObject({ verdict: { is: 'sent' } });
  expect(await check({ kind: 'list', settings }, 'wrong')).toMatchObject({ status: 401, note: 'answered 401' });
  expect(await check({ kind: 'list', settings: { ...settings, url: 'http://127.0.0.1:1' } }, LIST_KEY)).toMatchObject({
    verdict: { is: 'later' },
    status: null,
  });
  expect(await check({ kind: 'hook', settings: { url: 'http://nowhere.invalid/', allowPrivate: true } }, KEY)).toMatchObject({
    note: 'nowhere.invalid is not known to the network',
  });
  delete process.env['CRINDLE_MAIL_URL'];
  expect((await check({ kind: 'mail', settings: { to: 'a@b.example' } })).note).toMatch(/^No mail server is named/);
});

test('a lead that is erased takes what waits along, and so does a connection; with another key nothing is sent and nothing is lost', async () => {
  await hook();
  const [first, second] = [await lead(), await lead('b@post.example')];
  await database.pool.query(`delete from lead where id = $1`, [first]);
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
  expect(await deliver()).toBe(0);
  jest.restoreAllMocks();
  expect((await listDeliveries(database.pool, siteId, { connection: 'hook' })).map(({ lead: of, state }) => [of, state])).toEqual([
    [second, 'waiting'],
  ]);
  expect(await hooks()).toEqual([]);
  expect(await deleteConnection(database.pool, siteId, 'hook')).toBe(true);
  expect(await states()).toEqual([]);
});

test('only the last hundred exchanges are kept', async () => {
  await hook();
  for (let nth = 0; nth < 105; nth++) await lead(`w${nth}@post.example`);
  while ((await deliver()) > 0);
  expect(await listExchanges(database.pool, siteId, 'hook')).toHaveLength(100);
  expect(await hooks()).toHaveLength(105);
});
