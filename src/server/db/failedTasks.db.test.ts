// One thing that fails first does not keep a job from the others; it is told, rests for a while, and is struck off once it works.
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { carryOutSchedules, insertCampaign, setSchedule } from './campaigns';
import { GivenUp, isNotResting, listFailed, putAside, steps, tryAgain } from './failedTasks';
import { createMember, joinSite } from './members';
import { withTransaction } from './pool';
import { many, one } from './queryable';
import { createSite } from './sites';
import { addLine, passOn } from './threads';
import { deliverDue } from '../connections/deliver';
import { mailCopies, mailWaiting } from '../conversations/mails';
import { letGo, setKept } from '../privacy/retention';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';

const NOW = Date.UTC(2026, 10, 26, 12);
let database: FreshDatabase;
let site: number;
beforeEach(async () => {
  database = await freshDatabase();
  site = (await createSite(database.pool, { key: 'sitekey123', name: 'Tarn', addresses: [] })).id;
});
afterEach(() => database.drop());

/** Whatever a statement does to one row fails: the row is bad. */
const spoil = (table: string, on: 'update' | 'insert' | 'delete', row: string) =>
  database.pool.query(`
    create function spoilt_${table}() returns trigger language plpgsql as $$ begin raise exception 'a bad row of ${table}'; end $$;
    create trigger spoilt before ${on} on ${table} for each row when (${row}) execute function spoilt_${table}()`);
const mend = (table: string) => database.pool.query(`drop trigger spoilt on ${table}; drop function spoilt_${table}()`);

test('steps: who fails rests longer each time, others go on, who works again is struck off; what ends all is thrown on', async () => {
  const { pool } = database;
  const task = { site, subject: 'a', name: 'The first' };
  const rests = async (now: number) =>
    !(await one<{ is: boolean }>(pool, `select ${isNotResting('seal', '$1', `'a'`, '$2')} as is`, [site, now])).is;
  const done: string[] = [];
  for (const [at, restsFor] of [
    [NOW, 60_000],
    [NOW + 100_000, 120_000],
    [NOW + 500_000, 240_000],
  ] as const) {
    const { step, failures } = await steps(pool, 'seal', { now: at });
    expect(await step(task, () => Promise.reject(new Error('no')))).toBe(false);
    expect(await step({ ...task, subject: 'b' }, async () => void done.push('b'))).toBe(true);
    expect(failures).toEqual([new Error('no')]);
    expect([await rests(at + restsFor - 1), await rests(at + restsFor)]).toEqual([true, false]);
  }
  expect(done).toEqual(['b', 'b', 'b']);
  expect(await listFailed(pool, site)).toMatchObject([{ job: 'seal', subject: 'a', name: 'The first', words: 'no', times: 3 }]);
  // A month of failing: six hours at most.
  await pool.query(`update failed_task set times = 5000`);
  await (await steps(pool, 'seal', { now: NOW })).step(task, () => Promise.reject(new Error('still no')));
  expect((await listFailed(pool, site))[0]?.nextAt?.getTime()).toBe(NOW + 6 * 3_600_000);
  expect([await tryAgain(pool, site, { job: 'seal', subject: 'a' }, NOW), await rests(NOW)]).toEqual([true, false]);
  expect(await tryAgain(pool, site + 1, { job: 'seal', subject: 'a' }, NOW)).toBe(false);
  await (await steps(pool, 'seal', { now: NOW })).step(task, async () => undefined);
  expect(await listFailed(pool, site)).toEqual([]);
  await (await steps(pool, 'seal', { now: NOW })).step(task, () => Promise.reject(new GivenUp('never')));
  expect([(await listFailed(pool, site))[0]?.nextAt, await rests(NOW + 1e12)]).toEqual([null, true]);
  expect([await putAside(pool, site, { job: 'seal', subject: 'a' }), await putAside(pool, site, { job: 'seal', subject: 'a' })]).toEqual([
    true,
    false,
  ]);
  const away = await steps(pool, 'seal', { now: NOW, endsAll: () => true });
  await expect(away.step(task, () => Promise.reject(new Error('nothing gets through')))).rejects.toThrow('nothing gets through');
  expect(await listFailed(pool, site)).toEqual([]);
});

let nth = 0;
async function conversation({ waitsMinutes, copyTo }: { waitsMinutes?: number; copyTo?: string }): Promise<string> {
  const { pool } = database;
  const id = newUuid();
  await pool.query(
    `insert into visitor (site_id, id, browser_id, first_seen, last_seen) values ($1, $2, gen_random_uuid(), now(), now())`,
    [site, ++nth],
  );
  await pool.query(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at, copy_to) values ($1, $2, $3, 'camp', gen_random_uuid(), gen_random_uuid(), at_ms($4), $5)`,
    [site, id, nth, NOW, copyTo ?? null],
  );
  await withTransaction(pool, (tx) => addLine(tx, site, id, { id: newUuid(), by: 'visitor', text: 'Is it open?' }, 'asks'));
  await pool.query(`update thread set waits_since = at_ms($2), state = $3, closed_at = $4 where id = $1`, [
    id,
    NOW - (waitsMinutes ?? 0) * 60_000,
    copyTo ? 'closed' : 'open',
    copyTo ? new Date(NOW) : null,
  ]);
  return id;
}

const document = (name: string): CampaignDocument => ({
  name,
  goal: { kind: 'form' },
  rule: { pages: { on: [{ op: 'like', value: '/huts/*' }] }, moment: { kind: 'exit' } },
  flow: { start: 'a', messages: [{ id: 'a', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }] },
});

const join = async (name: string): Promise<number> => {
  const member = await createMember(database.pool, { email: `${name}@site.example`, name, passwordHash: '' });
  await joinSite(database.pool, { siteId: site, memberId: member, role: 'agent' });
  return member;
};

test('mails: fifty that are refused for now do not keep the next from going', async () => {
  const bad = await Promise.all(Array.from({ length: 50 }, (_, index) => conversation({ copyTo: `bad${index}@post.example` })));
  const good = await conversation({ copyTo: 'good@post.example' });
  const mailed: string[] = [];
  const send = async ({ to }: { to: string }): Promise<void> => {
    if (to.startsWith('bad')) throw Object.assign(new Error('451 later'), { responseCode: 451 });
    mailed.push(to);
  };
  for (const at of [NOW, NOW + 1000]) await mailCopies(database.pool, { now: at, send }).catch(() => undefined);
  expect(mailed).toEqual(['good@post.example']);
  expect(new Set((await listFailed(database.pool, site)).map(({ subject }) => subject))).toEqual(new Set(bad));
  expect(await one(database.pool, `select count(*)::int as n from thread where id = $1 and copied_at is not null`, [good])).toEqual({
    n: 1,
  });
});

test('a bad row first in each queue: the others are done, it is told, and done once it is mended', async () => {
  const { pool } = database;
  const told = async (): Promise<string[]> => (await listFailed(pool, site)).map(({ job }) => job).sort();

  // Conversations that wait, for mails and for the next person.
  const ines = await join('ines');
  const [first, second] = [await conversation({ waitsMinutes: 30 }), await conversation({ waitsMinutes: 20 })];
  await spoil('thread', 'update', `old.id = '${first}'`);
  const mails: string[] = [];
  const waiting = { now: NOW, send: async ({ text }: { text: string }) => void mails.push(text) };
  await expect(mailWaiting(pool, waiting)).rejects.toThrow('a bad row of thread');
  expect(await many(pool, `select id::text from thread where told_of is not null`)).toEqual([{ id: second }]);
  await pool.query(`insert into colleague (site_id, member_id, here_until) values ($1, $2, at_ms($3))`, [site, ines, NOW + 3_600_000]);
  await expect(passOn(pool, NOW)).rejects.toThrow('a bad row of thread');
  expect(await many(pool, `select id::text from thread where member_id is not null`)).toEqual([{ id: second }]);
  expect(await told()).toEqual(['mail waiting', 'pass on']);
  await mend('thread');
  expect([await mailWaiting(pool, { ...waiting, now: NOW + 70_000 }), await passOn(pool, NOW + 70_000)]).toEqual([1, 1]);
  expect(await told()).toEqual([]);

  // Campaigns that end.
  for (const id of ['camp_1', 'camp_2']) {
    await insertCampaign(pool, { siteId: site, id, document: document(id), status: 'live' });
    await setSchedule(pool, site, id, { startsAt: null, endsAt: new Date(NOW + 1000) });
  }
  await spoil('campaign', 'update', `old.id = 'camp_1'`);
  const at = NOW + 80_000;
  await expect(carryOutSchedules(pool, at)).rejects.toThrow('a bad row of campaign');
  expect(await many(pool, `select id from campaign where status = 'ended'`)).toEqual([{ id: 'camp_2' }]);
  expect(await told()).toEqual(['schedule']);
  expect(await carryOutSchedules(pool, at + 1000)).toBe(0);
  await mend('campaign');
  expect(await carryOutSchedules(pool, at + 70_000)).toBe(1);
  expect(await told()).toEqual([]);

  // Connections: what becomes of a sending cannot be written down for one of them.
  for (const id of ['conn_bad', 'conn_good']) {
    await pool.query(
      `insert into connection (site_id, id, name, kind, settings) values ($1, $2, $2, 'hook', '{"url":"http://hook.example"}')`,
      [site, id],
    );
    await pool.query(
      `insert into delivery (site_id, id, connection_id, what, body, made_at, next_at) values ($1, gen_random_uuid(), $2, 'erased', '{"email":"a@post.example"}', at_ms($3), at_ms($3))`,
      [site, id, NOW],
    );
  }
  await spoil('exchange', 'insert', `new.connection_id = 'conn_bad'`);
  const sending = (now: number) =>
    deliverDue(pool, { now: () => now, send: async () => ({ verdict: { is: 'sent' }, status: 200, note: '' }) });
  await expect(sending(NOW)).rejects.toThrow('a bad row of exchange');
  // What tells of somebody who was erased goes once it is told.
  expect(await many(pool, `select connection_id as id from delivery`)).toEqual([{ id: 'conn_bad' }]);
  expect(await told()).toEqual(['deliver']);
  await mend('exchange');
  expect(await sending(NOW + 120_000)).toBe(1);
  expect(await told()).toEqual([]);

  // What is kept no longer: leads of a site go although its visits cannot.
  await pool.query(
    `insert into visit (site_id, id, visitor_id, started_at, last_at, channel) values ($1, gen_random_uuid(), $3, at_ms($2), at_ms($2), 'direct')`,
    [site, NOW - 90 * 86_400_000, nth],
  );
  await pool.query(
    `insert into lead (site_id, id, showing_id, campaign_id, visitor_id, at, fields, url) values ($1, gen_random_uuid(), gen_random_uuid(), 'camp', $3, at_ms($2), '{}', 'http://tarn.example/')`,
    [site, NOW - 90 * 86_400_000, nth],
  );
  await setKept(pool, site, { visits: 30, leads: 30, conversations: null });
  await spoil('visit', 'delete', 'true');
  await expect(letGo(pool, NOW)).rejects.toThrow('a bad row of visit');
  expect(await one(pool, `select (select count(*)::int from lead) as leads, (select count(*)::int from visit) as visits`)).toEqual({
    leads: 0,
    visits: 1,
  });
  expect(await told()).toEqual(['let go']);
  await mend('visit');
  expect(await letGo(pool, NOW + 1000)).toEqual({ visits: 1, leads: 0, conversations: 0 });
  expect(await told()).toEqual([]);
});
