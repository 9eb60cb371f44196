import { createHash, randomBytes } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import type { FastifyInstance } from 'fastify';
import { parse } from 'papaparse';
import type { ConnectionBody } from '@/core/connections/kinds';
import type { HookReceived, MemberReceived, PersonReceived } from '@/standins/receivers';
import { AUDIENCE_KEY, LIST_KEY } from '@/standins/receivers';
import { createStandins } from '@/standins/server';
import { insertConnection } from '../db/connections';
import { endKept, keepSegment, listKept, listOpenMembers, membersAgain } from '../db/keptSegments';
import { eraseLeads, listLeads, withdrawConsent } from '../db/leads';
import { withTransaction } from '../db/pool';
import { many, one } from '../db/queryable';
import { findSegment, insertSegment } from '../db/segments';
import { createSite } from '../db/sites';
import { segmentMembers } from '../exchange/members';
import { csvResponse } from '../http/downloads';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { boundTo, deliverDue } from './deliver';
import { syncAudiences } from './audienceSync';
import { encrypt } from './secrets';

const before = { ...process.env };
let database: FreshDatabase;
let siteId: number;
let standins: FastifyInstance;
let url: string;
beforeEach(async () => {
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: [] })).id;
  standins = createStandins();
  await standins.listen({ port: 0, host: '127.0.0.1' });
  url = `http://127.0.0.1:${(standins.server.address() as AddressInfo).port}`;
  await insertSegment(database.pool, {
    siteId,
    id: 'seg_booked',
    name: 'Booked',
    lookback: 90,
    people: { kind: 'did', event: 'booking', times: { min: 1 } },
  });
});
afterEach(async () => {
  await standins.close();
  await database.drop();
  process.env = { ...before };
});

const hash = (email: string): string => createHash('sha256').update(email.trim().toLowerCase()).digest('hex');

async function connect(id: string, body: ConnectionBody, secret: string): Promise<void> {
  await insertConnection(database.pool, siteId, { id, name: id, body, secret: encrypt(secret, boundTo(siteId, id)) });
  await keepSegment(database.pool, siteId, { id: `kept_${id}`, segment: 'seg_booked', connection: id });
}
const audience = () => connect('ads', { kind: 'audience', settings: { url, audience: 'walkers', allowPrivate: true } }, AUDIENCE_KEY);
const list = () => connect('list', { kind: 'list', settings: { url, list: 'letters', allowPrivate: true } }, LIST_KEY);
const hook = () => connect('hook', { kind: 'hook', settings: { url: `${url}/hook`, allowPrivate: true } }, 'whsec_a2V5');

/** A visitor with a visit, and with a lead where there is an email. */
async function visitor(email: string | undefined, { agrees = true, books = false } = {}): Promise<number> {
  const { id } = await one<{ id: number }>(
    database.pool,
    `insert into visitor (site_id, id, browser_id, email, first_seen, last_seen)
     select $1, coalesce(max(id), 0) + 1, gen_random_uuid(), $2, now(), now() from visitor where site_id = $1 returning id`,
    [siteId, email ?? null],
  );
  await database.pool.query(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, $2, $3, now() - interval '1 hour', now() - interval '1 hour', 'direct')`,
    [siteId, newUuid(), id],
  );
  if (email !== undefined)
    await database.pool.query(
      `insert into lead (site_id, id, campaign_id, visitor_id, at, email, url, fields, consent) values ($1, $2, 'camp', $3, now(), $4, 'https://site.example/', '{}', $5)`,
      [siteId, newUuid(), id, email, agrees ? '[{"name":"letters","words":"You may write"}]' : '[]'],
    );
  if (books) await book(id);
  return id;
}
const book = (id: number) =>
  database.pool.query(
    `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props)
     select $1, $2, id, id, visitor_id, now() - interval '30 minutes', 'booking', '{}' from visit where site_id = $1 and visitor_id = $3`,
    [siteId, newUuid(), id],
  );
const unbook = (id: number) => database.pool.query(`delete from event where visitor_id = $1`, [id]);

let hurried = 0;
beforeEach(() => (hurried = 0));
/** As the worker does, with a clock that goes on: compares, and sends what has changed. */
async function step(later = 16 * 60_000): Promise<number> {
  hurried += later;
  const now = (): number => Date.now() + hurried;
  await syncAudiences(database.pool, { now });
  let sent = 0;
  for (let went; (went = await deliverDue(database.pool, { now })) > 0;) sent += went;
  return sent;
}
const fault = (service: string, kind: string, address = '') =>
  fetch(`${url}/faults/${service}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ fault: kind, address }),
  });
const got = async <T>(what: string) => (await (await fetch(`${url}/${what}.json`)).json()) as T[];
const people = async () => (await got<PersonReceived>('audiences')).map(({ person }) => person).sort();
const kept = async () =>
  (await listKept(database.pool, siteId)).map(({ connection, joined, gone, there, waiting, failed }) => ({
    connection,
    joined,
    gone,
    there,
    waiting,
    failed,
  }));

test('whoever is in the segment, has an email and agreed is there, as hashes; whoever leaves it is taken out; nothing else is sent', async () => {
  await audience();
  const anna = await visitor('Anna@post.example', { books: true });
  await visitor('ben@post.example');
  await visitor('carl@post.example', { books: true, agrees: false });
  await visitor(undefined, { books: true });
  expect(await step()).toBe(1);
  expect(await people()).toEqual([hash('anna@post.example')]);
  expect(await step()).toBe(0);
  // Another of her browsers: the same person.
  await visitor('anna@POST.example', { books: true });
  await unbook(anna);
  expect(await step()).toBe(0);
  await book(await visitor('dora@post.example'));
  expect(await step()).toBe(1);
  expect(await people()).toEqual([hash('anna@post.example'), hash('dora@post.example')].sort());
  await database.pool.query(`delete from event`);
  expect(await step()).toBe(2);
  expect(await people()).toEqual([]);
  expect(await kept()).toEqual([{ connection: 'ads', joined: 2, gone: 2, there: 0, waiting: 0, failed: 0 }]);
  expect(await many(database.pool, `select from kept_member`)).toEqual([]);
});

test('it is not compared before a quarter of an hour has passed', async () => {
  await audience();
  expect(await step()).toBe(0);
  await visitor('anna@post.example', { books: true });
  expect(await step(14 * 60_000)).toBe(0);
  expect(await step(2 * 60_000)).toBe(1);
});

test('a web hook hears of joining and leaving, a mail list gets the segment as a tag', async () => {
  await hook();
  await list();
  const anna = await visitor('anna@post.example', { books: true });
  await step();
  expect((await got<MemberReceived>('lists')).map(({ member, tags }) => [member, tags])).toEqual([[hash('anna@post.example'), ['Booked']]]);
  await unbook(anna);
  await step();
  expect(await got<MemberReceived>('lists')).toEqual([]);
  expect((await got<HookReceived>('hook')).map(({ body, times }) => [(JSON.parse(body) as { type: string }).type, times]).sort()).toEqual([
    ['segment.joined', 1],
    ['segment.left', 1],
  ]);
  expect(JSON.parse((await got<HookReceived>('hook'))[0]?.body ?? '')).toMatchObject({
    data: { email: 'anna@post.example', segment: { id: 'seg_booked', name: 'Booked' } },
  });
});

test('whoever takes their consent back, or is erased, is taken out wherever they were, and comes back with a new consent alone', async () => {
  await audience();
  await list();
  await visitor('anna@post.example', { books: true });
  await visitor('ben@post.example', { books: true });
  await step();
  expect(await people()).toHaveLength(2);
  const leadOf = async (email: string) =>
    (await listLeads(database.pool, siteId)).find((lead) => lead.email === email && !lead.withdrawnAt)?.id ?? '';
  expect(await withTransaction(database.pool, async (tx) => withdrawConsent(tx, siteId, await leadOf('anna@post.example')))).toBe(true);
  expect(await withTransaction(database.pool, (tx) => withdrawConsent(tx, siteId, 'nobody'))).toBe(false);
  // At once: nobody waits for a quarter of an hour.
  await step(0);
  expect(await people()).toEqual([hash('ben@post.example')]);
  await withTransaction(database.pool, async (tx) => eraseLeads(tx, siteId, [await leadOf('ben@post.example')]));
  await step(0);
  expect(await people()).toEqual([]);
  expect(await got<MemberReceived>('lists')).toEqual([]);
  // Nothing of them is left in what waits.
  expect(await many(database.pool, `select from kept_member`)).toEqual([]);
  await visitor('anna@post.example', { books: true });
  await step();
  expect(await people()).toEqual([hash('anna@post.example')]);
});

test('a service that is away is caught up with; one address that it refuses is told, and goes again by hand', async () => {
  await audience();
  await fault('audiences', 'drops');
  for (const name of ['anna', 'ben', 'carl']) await visitor(`${name}@post.example`, { books: true });
  expect(await step()).toBe(0);
  expect((await kept())[0]).toMatchObject({ there: 0, waiting: 3, failed: 0 });
  expect(
    (await listOpenMembers(database.pool, siteId, 'ads')).map(({ reason }) => reason).every((reason) => reason.includes('127.0.0.1')),
  ).toBe(true);
  await fault('audiences', 'one', 'ben@post.example');
  expect(await step(60 * 60_000)).toBe(2);
  expect(await listOpenMembers(database.pool, siteId, 'ads')).toMatchObject([
    { email: 'ben@post.example', segment: 'Booked', wanted: true, failed: true, reason: 'answered 422' },
  ]);
  await fault('audiences', 'none');
  expect(await step()).toBe(0);
  expect(await membersAgain(database.pool, siteId, 'ads')).toBe(1);
  expect(await step()).toBe(1);
  expect((await kept())[0]).toMatchObject({ joined: 3, there: 3, waiting: 0, failed: 0 });
});

test('whoever leaves before they could join is sent nowhere; whoever may have arrived is taken out all the same', async () => {
  await audience();
  const anna = await visitor('anna@post.example', { books: true });
  await syncAudiences(database.pool);
  await unbook(anna);
  expect(await step()).toBe(0);
  expect(await many(database.pool, `select from kept_member`)).toEqual([]);
  await book(anna);
  // It took her, and its answer never came.
  await syncAudiences(database.pool, { now: () => Date.now() + hurried + 16 * 60_000 });
  await deliverDue(database.pool, {
    now: () => Date.now() + hurried,
    send: async () => ({ verdict: { is: 'later', reason: 'did not answer' }, status: null, note: 'did not answer' }),
  });
  await fetch(`${url}/audiences/walkers/people/${hash('anna@post.example')}`, {
    method: 'PUT',
    headers: { authorization: `Bearer ${AUDIENCE_KEY}`, 'content-type': 'application/json' },
    body: '{}',
  });
  await unbook(anna);
  expect(await step(40 * 60_000)).toBe(1);
  expect(await people()).toEqual([]);
});

test('two that compare and send at the same time do it once', async () => {
  await hook();
  for (let nth = 0; nth < 30; nth++) await visitor(`w${nth}@post.example`, { books: true });
  await Promise.all([step(), step(0), step(0)]);
  const calls = await got<HookReceived>('hook');
  expect([calls.length, calls.every(({ times }) => times === 1)]).toEqual([30, true]);
  expect((await kept())[0]).toMatchObject({ joined: 30, there: 30 });
});

test('ended, everybody is taken out, and then it is over; a deleted segment empties what it kept, and a restored one fills it again', async () => {
  await audience();
  await visitor('anna@post.example', { books: true });
  await step();
  const { rows } = await database.pool.query<{ row: unknown }>(
    `delete from segment where id = 'seg_booked' returning to_jsonb(segment) as row`,
  );
  await step();
  expect(await people()).toEqual([]);
  expect((await listKept(database.pool, siteId))[0]).toMatchObject({
    segmentName: null,
    note: 'the segment is deleted: everybody is taken out',
  });
  await database.pool.query(`insert into segment select (jsonb_populate_record(null::segment, $1)).*`, [rows[0]?.row]);
  await step();
  expect(await people()).toHaveLength(1);
  expect(await endKept(database.pool, siteId, { segment: 'seg_booked', connection: 'ads' })).toBe(true);
  await step(0);
  expect(await people()).toEqual([]);
  await step(6_000);
  expect(await listKept(database.pool, siteId)).toEqual([]);
});

test('the members as CSV, read by another parser, are who is in it: chosen columns, emails as hashes, nothing that a spreadsheet runs', async () => {
  await visitor('Anna@post.example', { books: true });
  await visitor('ben@post.example', { books: true, agrees: false });
  await visitor(undefined, { books: true });
  await visitor('carl@post.example');
  const segment = await findSegment(database.pool, siteId, 'seg_booked');
  if (!segment) throw new Error('no segment');
  const rows = async (who: 'all' | 'email' | 'agreed') => {
    const found: string[][] = [];
    for await (const { email, email_sha256: sha, agreed, visits } of segmentMembers(database.pool, siteId, {
      segment,
      now: Date.now(),
      who,
    }))
      found.push([email, sha, agreed, visits]);
    return found;
  };
  expect(await rows('agreed')).toEqual([['Anna@post.example', hash('anna@post.example'), 'yes', '1']]);
  expect(await rows('email')).toHaveLength(2);
  const all = await rows('all');
  expect(all).toHaveLength(3);
  const text = await csvResponse(
    'x.csv',
    ['email', 'sha', 'agreed', 'visits'],
    (async function* () {
      yield* all;
    })(),
  ).text();
  expect(parse<string[]>(text, { skipEmptyLines: true }).data.slice(1)).toEqual(all);
});
