import type { FastifyInstance } from 'fastify';
import { insertCampaign } from '../db/campaigns';
import { createMember, joinSite, openSession } from '../db/members';
import { one } from '../db/queryable';
import { createSite } from '../db/sites';
import type { Site } from '../db/sites';
import { listTeam, setTeam } from '../db/team';
import { openTryout } from '../db/tryouts';
import { createHash } from 'node:crypto';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { batchOf, collectorOn, KEY, NOW, opened, post } from '../testing/collectorUnderTest';
import { addressOnSite, NotOfTheSite, withTicket } from './address';

let database: FreshDatabase;
let site: Site;
let server: FastifyInstance;
const SESSION = 'a session of a browser';

beforeEach(async () => {
  database = await freshDatabase();
  site = await createSite(database.pool, { key: KEY, name: 'Site', addresses: ['site.example', 'www.site.example'] });
  const memberId = await createMember(database.pool, { email: 'a@site.example', name: 'A', passwordHash: 'x' });
  await joinSite(database.pool, { siteId: site.id, memberId, role: 'owner' });
  await openSession(database.pool, { tokenHash: createHash('sha256').update(SESSION).digest(), memberId, days: 1 });
  server = await collectorOn(database.pool);
});
afterEach(async () => {
  await server.close();
  await database.drop();
});

const open = () => openTryout(database.pool, { siteId: site.id, session: SESSION, campaign: 'camp_a' });
async function ask(body: object) {
  const response = await server.inject({ method: 'POST', url: '/try', payload: JSON.stringify(body) });
  return { status: response.statusCode, answer: response.json<Record<string, never> & { error?: { code: string; message: string } }>() };
}
const begin = (ticket: string, key = KEY) => ask({ kind: 'begin', key, ticket });
const judge = (token: string, more: object = {}) =>
  ask({
    kind: 'judge',
    key: KEY,
    token,
    now: NOW,
    tried: {
      visits: [{ at: NOW, referrer: '', views: [{ url: 'https://site.example/huts', at: NOW, engaged: 0, scroll: 0 }], events: [] }],
      known: false,
      traits: {},
      tags: [],
      score: 0,
      responses: [],
    },
    course: { opened: NOW, hidden: false, lasted: 0, engaged: 0, clicks: 0, signals: [], t: 0 },
    pacing: { campaigns: {}, visit: { startedAt: NOW, showings: 0, campaigns: [] } },
    held: [],
    knows: { language: 'en', zone: 'UTC' },
    pretend: {},
    ...more,
  });

test('a ticket is good once, for its site, for five minutes; a token until twenty minutes of silence or the end of its session', async () => {
  const { ticket } = await open();
  expect((await begin(ticket, 'another')).status).toBe(401);
  const { status, answer } = await begin(ticket);
  expect([status, answer['campaign'], answer['wants']]).toEqual([200, 'camp_a', null]);
  const token = String(answer['token']);
  expect((await begin(ticket)).status).toBe(401);
  expect((await judge(ticket)).status).toBe(401);
  expect((await judge(token)).status).toBe(200);
  expect((await judge(token, { key: 'another' })).status).toBe(401);
  // Heard of now and then it stays; the instant is written only now and then.
  await database.pool.query(`update tryout set last_at = now() - interval '19 minutes'`);
  expect((await judge(token)).status).toBe(200);
  expect((await one<{ is: boolean }>(database.pool, `select last_at > now() - interval '1 minute' as is from tryout`)).is).toBe(true);
  await database.pool.query(`update tryout set last_at = now() - interval '21 minutes'`);
  expect((await judge(token)).answer.error?.code).toBe('tryout.over');

  const late = await open();
  await database.pool.query(`update tryout set created_at = now() - interval '6 minutes' where id = $1`, [late.id]);
  expect((await begin(late.ticket)).status).toBe(401);

  const other = await open();
  const second = String((await begin(other.ticket)).answer['token']);
  expect((await judge(second)).status).toBe(200);
  await database.pool.query(`update session set expires_at = now() - interval '1 second'`);
  expect((await judge(second)).status).toBe(401);
  await database.pool.query(`update session set expires_at = now() + interval '1 day'`);
  expect((await judge(second)).status).toBe(200);
  expect((await ask({ kind: 'leave', key: KEY, token: second })).status).toBe(200);
  expect((await judge(second)).status).toBe(401);
  // Signing out takes all of them along.
  await database.pool.query(`delete from session`);
  expect((await one<{ left: number }>(database.pool, `select count(*)::int as left from tryout`)).left).toBe(0);
});

test('a try-out ends for whoever is taken off the site, though they are signed in, and lists no visitors', async () => {
  const { answer } = await begin((await open()).ticket);
  const token = String(answer['token']);
  await post(server, batchOf([opened(), opened()]));
  const { id } = await one<{ id: number }>(database.pool, `select id from visitor`);
  const choices = async (said: string) => (await ask({ kind: 'choices', key: KEY, token, of: 'visitors', said })).answer;
  expect(await choices('')).toEqual({ choices: [] });
  expect(await choices(String(id))).toEqual({ choices: [{ label: `Visitor ${id}`, value: id }] });
  const waiting = await open();
  await database.pool.query(`delete from membership`);
  expect((await judge(token)).answer.error?.code).toBe('tryout.over');
  expect((await choices(String(id))).error).toMatchObject({ code: 'tryout.over' });
  expect((await begin(waiting.ticket)).status).toBe(401);
});

test('neither ticket nor token stands in the database', async () => {
  const { ticket } = await open();
  const token = String((await begin(ticket)).answer['token']);
  const { row } = await one<{ row: string }>(database.pool, `select row_to_json(tryout)::text as row from tryout`);
  expect(row).not.toContain(ticket);
  expect(row).not.toContain(token);
});

test('what is no question is named, and a question of anything size is answered or refused', async () => {
  const { ticket } = await open();
  const token = String((await begin(ticket)).answer['token']);
  for (const [bad, says] of [
    [{ pretend: { weather: { is: 'hail' } } }, /pretend\.weather\.is: met "hail"/],
    [{ pretend: { score: 1e9 } }, /pretend\.score/],
    [{ now: -1 }, /now: met -1/],
    [{ held: Array(50).fill('overlay') }, /held/],
  ] as const) {
    const { status, answer } = await judge(token, bad);
    expect([status, answer.error?.message]).toEqual([400, expect.stringMatching(says)]);
  }
  expect((await ask({ kind: 'nothing' })).status).toBe(400);
  const huge = await server.inject({ method: 'POST', url: '/try', payload: 'x'.repeat(3_000_000) });
  expect([huge.statusCode, huge.json<{ error: { message: string } }>().error.message]).toEqual([413, 'The body is larger than 2048 KB']);
});

test('drafts are judged as they are in the studio, and nothing of it is recorded', async () => {
  const document = {
    name: 'Draft',
    goal: { kind: 'form' as const },
    rule: { people: { kind: 'weather' as const, is: ['snow' as const] } },
    flow: {
      start: 'a',
      messages: [{ id: 'a', format: 'popup' as const, blocks: [], closes: { button: true, dim: true, escape: true } }],
    },
  };
  await insertCampaign(database.pool, { siteId: site.id, id: 'camp_a', document });
  const token = String((await begin((await open()).ticket)).answer['token']);
  const takes = { camp_a: true };
  const silent = (await judge(token, { pretend: { takes }, chosen: 'camp_a' })).answer as unknown as {
    facts: unknown[];
    release: { hash: string };
    document?: { campaigns: unknown[] };
    campaigns: { id: string; value: boolean | null }[];
  };
  expect(silent.facts).toEqual([null]);
  expect(silent.document?.campaigns).toHaveLength(1);
  expect(silent.campaigns).toMatchObject([{ id: 'camp_a', takes: true, value: null, cause: { family: 'people' } }]);
  // What the page has already is not sent again.
  const again = (await judge(token, { pretend: { takes, weather: { is: 'snow' } }, has: silent.release.hash })).answer;
  expect([again['facts'], again['document']]).toEqual([[true], undefined]);
  const { rows } = await one<{ rows: number }>(
    database.pool,
    `select ((select count(*) from visitor) + (select count(*) from visit) + (select count(*) from page_view) + (select count(*) from refused))::int as rows`,
  );
  expect(rows).toBe(0);
});

test('a recorded browser becomes one of the team’s, and one that was never here does not', async () => {
  const browser = newUuid();
  expect(await setTeam(database.pool, site.id, { browser, is: true })).toEqual({ isKnown: false, isOurs: false });
  expect((await post(server, batchOf([opened()], { browser }))).status).toBe(200);
  const token = String((await begin((await open()).ticket)).answer['token']);
  expect((await ask({ kind: 'ours', key: KEY, token, browser })).answer).toEqual({ isKnown: true, isOurs: false });
  expect((await ask({ kind: 'ours', key: KEY, token, browser, is: true })).answer).toEqual({ isKnown: true, isOurs: true });
  expect(await listTeam(database.pool, site.id)).toMatchObject([{ visits: 1 }]);
  expect((await ask({ kind: 'ours', key: KEY, token: 'forged', browser, is: false })).status).toBe(401);
});

test('a page is one of the site’s, by path or whole, and nothing else', async () => {
  const at = async (page: string) => (await addressOnSite(database.pool, site, page)).href;
  expect(await at('/huts?a=1')).toBe('https://site.example/huts?a=1');
  expect(await at('http://www.site.example/app/#/route')).toBe('http://www.site.example/app/#/route');
  for (const bad of ['https://elsewhere.example/', '//elsewhere.example/', 'javascript:alert(1)', 'huts', ''])
    await expect(at(bad)).rejects.toThrow(NotOfTheSite);
  // As it was seen last: another address, another scheme.
  await post(server, batchOf([opened({ url: 'http://www.site.example/x' })]));
  expect(await at('/huts')).toBe('http://www.site.example/huts');
  expect(withTicket(new URL('https://site.example/a'), site, 't')).toBe(`https://site.example/a#crindle=${KEY}.t`);
  expect(withTicket(new URL('https://site.example/#/a'), site, 't')).toBe(`https://site.example/#/acrindle=${KEY}.t`);
});
