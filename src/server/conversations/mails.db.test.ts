// Mails about conversations, and what came of them.
import { parse } from 'papaparse';
import { createMember, joinSite } from '../db/members';
import { conversationResults } from '../db/conversationResults';
import { withTransaction } from '../db/pool';
import { createSite } from '../db/sites';
import { addLine } from '../db/threads';
import { CONVERSATION_COLUMNS, eachConversation } from '../exchange/conversations';
import { csvResponse } from '../http/downloads';
import type { Mail } from '../mail/mailer';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { newUuid } from '../testing/items';
import { mailAnswers, mailCopies, mailWaiting } from './mails';

let database: FreshDatabase;
let siteId: number;
let [ines, jonas] = [0, 0];
beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Tarn', addresses: [] })).id;
  const join = async (name: string): Promise<number> => {
    const member = await createMember(database.pool, { email: `${name}@site.example`, name, passwordHash: '' });
    await joinSite(database.pool, { siteId, memberId: member, role: 'agent' });
    return member;
  };
  [ines, jonas] = [await join('ines'), await join('jonas')];
});
afterEach(() => database.drop());

let nth = 0;
/** A visitor who wrote so many minutes ago. */
async function thread({ email, minutesAgo = 0 }: { email?: string; minutesAgo?: number } = {}): Promise<string> {
  const id = newUuid();
  await database.pool.query(
    `insert into visitor (site_id, id, browser_id, email, first_seen, last_seen) values ($1, $2, gen_random_uuid(), $3, now(), now())`,
    [siteId, ++nth, email ?? null],
  );
  await database.pool.query(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at) values ($1, $2, $3, 'camp', gen_random_uuid(), gen_random_uuid(), now())`,
    [siteId, id, nth],
  );
  await say(id, 'visitor', '=Is <it> open?');
  await database.pool.query(
    `update thread set waits_since = waits_since - make_interval(mins => $2), asked_at = asked_at - make_interval(mins => $2) where id = $1`,
    [id, minutesAgo],
  );
  return id;
}
const say = (id: string, by: 'visitor' | 'team', text: string, member?: number) =>
  withTransaction(database.pool, (tx) => addLine(tx, siteId, id, { id: newUuid(), by, text, member }, by === 'team' ? 'answers' : 'asks'));
const MINUTE = 60_000;
const mailed: Mail[] = [];
beforeEach(() => void mailed.splice(0));
const send = async (mail: Mail): Promise<void> => void mailed.push(mail);
const later = (minutes: number): number => Date.now() + minutes * MINUTE;

test('whoever has waited for ten minutes is told to all who answer, or to whoever has it; once a wait', async () => {
  const id = await thread({ minutesAgo: 11 });
  await thread({ minutesAgo: 9 });
  expect(await mailWaiting(database.pool, { now: Date.now(), send })).toBe(2);
  expect(mailed.map(({ to }) => to).sort()).toEqual(['ines@site.example', 'jonas@site.example']);
  expect(mailed[0]?.text).toContain('has waited for an answer on Tarn for 11 minutes');
  expect(mailed[0]?.html).toContain('=Is &lt;it&gt; open?');
  expect(await mailWaiting(database.pool, { now: Date.now(), send })).toBe(0);
  // Answered, asked again, and waiting once more: another wait.
  await say(id, 'team', 'It is.', ines);
  await database.pool.query(`update thread set member_id = $2 where id = $1`, [id, ines]);
  await say(id, 'visitor', 'And tomorrow?');
  mailed.splice(0);
  expect(await mailWaiting(database.pool, { now: later(5), send })).toBe(2);
  expect(mailed.map(({ to }) => to).sort()).toEqual(['ines@site.example', 'jonas@site.example']);
  mailed.splice(0);
  expect(await mailWaiting(database.pool, { now: later(11), send })).toBe(1);
  expect(mailed.map(({ to }) => to)).toEqual(['ines@site.example']);
});

test('a copy goes to whoever wanted one of a closed conversation, once each time that it was closed', async () => {
  const id = await thread();
  await say(id, 'team', 'It is.', ines);
  await withTransaction(database.pool, (tx) => addLine(tx, siteId, id, { id: newUuid(), by: 'note', text: 'for us alone' }, 'neither'));
  const close = () => database.pool.query(`update thread set state = 'closed', closed_at = clock_timestamp()`);
  const want = () =>
    database.pool.query(`update thread set copy_to = 'anna@post.example', copied_at = case when copied_at > closed_at then copied_at end`);
  await want();
  expect(await mailCopies(database.pool, { now: Date.now(), send })).toBe(0);
  await close();
  expect(await mailCopies(database.pool, { now: Date.now(), send })).toBe(1);
  expect(mailed).toMatchObject([
    { to: 'anna@post.example', subject: 'Your conversation with Tarn', text: 'You: =Is <it> open?\n\nines: It is.' },
  ]);
  await want();
  expect(await mailCopies(database.pool, { now: Date.now(), send })).toBe(0);
  await close();
  await want();
  expect(await mailCopies(database.pool, { now: Date.now(), send })).toBe(1);
  expect(new Set(mailed.map((mail) => mail.id)).size).toBe(2);
});

test('a mail server that does not take it is tried again', async () => {
  await thread({ minutesAgo: 11 });
  await expect(mailWaiting(database.pool, { now: Date.now(), send: () => Promise.reject(new Error('451')) })).rejects.toThrow('451');
  expect(await mailWaiting(database.pool, { now: Date.now(), send })).toBe(0);
  expect(await mailWaiting(database.pool, { now: later(2), send })).toBe(2);
});

test('an address that is none stands in nobody’s way: it is said, not tried again, and all others are mailed', async () => {
  const refuse = async (mail: Mail): Promise<void> => {
    if (!mail.to.includes('@')) throw Object.assign(new Error('No recipients defined'), { code: 'EENVELOPE' });
    await send(mail);
  };
  for (const email of ['nobody', 'anna@post.example']) {
    const id = await thread({ email });
    await say(id, 'team', 'It is.', ines);
    await database.pool.query(`update thread set state = 'closed', closed_at = clock_timestamp(), copy_to = $2 where id = $1`, [id, email]);
  }
  await database.pool.query(`update member set email = 'none' where name = 'ines'`);
  await thread({ minutesAgo: 11 });
  for (const [mails, to] of [
    [() => mailAnswers(database.pool, { now: later(3), send: refuse }), 'anna@post.example'],
    [() => mailCopies(database.pool, { now: Date.now(), send: refuse }), 'anna@post.example'],
    [() => mailWaiting(database.pool, { now: Date.now(), send: refuse }), 'jonas@site.example'],
  ] as const) {
    mailed.splice(0);
    await expect(mails()).rejects.toThrow('1 mails were refused, 1 were sent');
    expect(mailed.map((mail) => mail.to)).toEqual([to]);
    expect(await mails()).toBe(0);
  }
});

test('what was answered after they had gone is mailed to whoever left an email, once; what they have seen is not', async () => {
  const [anna, , seen] = [await thread({ email: 'anna@post.example' }), await thread(), await thread({ email: 'ben@post.example' })];
  await say(anna, 'team', 'It is open.', ines);
  await say(anna, 'team', 'Until <May>.', jonas);
  await say(seen, 'team', 'Yes.', ines);
  await database.pool.query(`update thread set visitor_seen = last_seq where id = $1`, [seen]);
  expect(await mailAnswers(database.pool, { now: Date.now(), send })).toBe(0);
  expect(await mailAnswers(database.pool, { now: later(3), send })).toBe(1);
  expect(mailed).toMatchObject([
    { to: 'anna@post.example', subject: 'An answer from Tarn', text: 'ines: It is open.\n\njonas: Until <May>.' },
  ]);
  expect(await mailAnswers(database.pool, { now: later(4), send })).toBe(0);
});

test('results say how many wanted a person, were answered or missed, and how long they waited, by person; the table reads the same', async () => {
  const [first, second, third] = [
    await thread({ minutesAgo: 4 }),
    await thread({ minutesAgo: 2, email: 'anna@post.example' }),
    await thread({ minutesAgo: 25 * 60 }),
  ];
  await thread();
  await say(first, 'team', 'a', ines);
  await say(first, 'team', 'b', jonas);
  await say(second, 'team', 'c', ines);
  const came = await conversationResults(database.pool, siteId, { campaign: 'camp', now: Date.now() });
  expect(came).toMatchObject({ wanted: 4, answered: 2, missed: 1 });
  expect(Math.round((came.medianWaitMs ?? 0) / MINUTE)).toBe(3);
  expect(came.byPerson.map(({ name, conversations, lines }) => [name, conversations, lines])).toEqual([
    ['ines', 2, 2],
    ['jonas', 1, 1],
  ]);
  // Whoever was not the first to answer has kept nobody waiting.
  expect(came.byPerson[1]?.medianWaitMs).toBeNull();
  expect(await conversationResults(database.pool, siteId, { campaign: 'another', now: Date.now() })).toMatchObject({
    wanted: 0,
    medianWaitMs: null,
  });
  const rows: string[][] = [];
  for await (const row of eachConversation(database.pool, siteId)) rows.push(CONVERSATION_COLUMNS.map((name) => row[name]));
  expect(rows).toHaveLength(4);
  const text = await csvResponse(
    'x',
    CONVERSATION_COLUMNS,
    (async function* () {
      yield* rows;
    })(),
  ).text();
  expect(parse<string[]>(text, { skipEmptyLines: true }).data.slice(1)).toEqual(rows);
  // Erased with its visitor.
  await database.pool.query(`delete from visitor where id = (select visitor_id from thread where id = $1)`, [third]);
  expect((await database.pool.query(`select from line where thread_id = $1`, [third])).rowCount).toBe(0);
});
