// What is on record of somebody: found, given out, erased so that nothing of them is left, and let go of in time.
import { randomBytes } from 'node:crypto';
import { insertConnection } from '../db/connections';
import { keepSegment } from '../db/keptSegments';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many, one } from '../db/queryable';
import { insertSegment } from '../db/segments';
import { addLine } from '../db/threads';
import type { Verdict } from '@/core/connections/retry';
import { boundTo, deliverDue } from '../connections/deliver';
import { encrypt } from '../connections/secrets';
import { sealSites } from '../sealed/seal';
import { ReadSide } from '../db/readSide';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest, NOW, opened } from '../testing/collectorUnderTest';
import { newUuid, pieceItem, showingItem } from '../testing/items';
import { dump, leftIn, signed, useSecret } from '../testing/marks';
import { DATA_MAP, visitorTables } from './dataMap';
import type { FoundBy, Person } from './find';
import { findPerson as find, personOf } from './find';
import { countPerson, erasePerson, exportPerson, listReceipts } from './person';
import { keptOf, letGo, setKept } from './retention';

const before = { ...process.env };
let tested: CollectorUnderTest;
beforeEach(async () => {
  process.env['CRINDLE_SECRET_KEY'] = randomBytes(32).toString('base64');
  tested = await collectorUnderTest();
});
afterEach(async () => {
  process.env = { ...before };
  await tested.end();
});

const DAY = 86_400_000;

/** Somebody as they are found where nobody chooses among the claims. */
const findPerson = async (db: Queryable, siteId: number, by: { by: FoundBy; value: string }): Promise<Person> =>
  personOf(await find(db, siteId, by));

/** Somebody who leaves a mark in every table that visitors are in. Gives what they could be known by. */
async function somebody(name: string, at = NOW - 60_000): Promise<{ email: string; browser: string; customer: string; marks: string[] }> {
  const { pool } = tested.database;
  const [email, customer, browser] = [`${name}@post.example`, `customer-${name}`, newUuid(at)];
  const open = opened({ at, url: `http://site.example/only/${name}`, title: `Title of ${name}` });
  const showing = showingItem(open);
  const where = { view: open.view, visit: open.visit };
  const thread = newUuid(at);
  const { answer } = await tested.send(
    [
      open,
      pieceItem(open, { labels: [`label-${name}`] }),
      showing,
      { kind: 'outcome', showing: showing.id, outcome: 'clicked', at: open.at + 4000 },
      { kind: 'step', showing: showing.id, message: 'next', at: open.at + 4500 },
      { kind: 'event', id: newUuid(at), ...where, at: open.at + 5000, name: 'booking', props: { who: `prop-${name}` } },
      { kind: 'person', id: newUuid(at), at: open.at + 5500, email, customerId: customer, traits: { called: `trait-${name}` } },
      { kind: 'mark', id: newUuid(at), at: open.at + 5600, tag: `tag-${name}` },
      {
        kind: 'form',
        id: newUuid(at),
        ...where,
        showing: showing.id,
        campaign: 'camp',
        at: open.at + 6000,
        url: open.url,
        email,
        fields: { said: `field-${name}` },
      },
      {
        kind: 'line',
        ...where,
        id: newUuid(at),
        thread,
        showing: showing.id,
        campaign: 'camp',
        at: open.at + 7000,
        by: 'visitor',
        text: `line-${name}`,
      },
    ],
    { browser },
  );
  expect(answer.items.filter(({ ok }) => !ok)).toEqual([]);
  const siteId = tested.site.id;
  await withTransaction(pool, (tx) => addLine(tx, siteId, thread, { id: newUuid(), by: 'team', text: `Dear ${name}-dear` }, 'answers'));
  await pool.query(
    `insert into line_picture (site_id, id, thread_id, visitor_id, width, height, bytes) select site_id, gen_random_uuid(), id, visitor_id, 1, 1, $2 from thread where id = $1`,
    [thread, Buffer.from(`picture-${name}`)],
  );
  // One that they sent before is not kept any more: that they sent it is.
  const before = await one<{ id: string }>(
    pool,
    `insert into lead (site_id, id, campaign_id, visitor_id, at, url, fields)
     select site_id, gen_random_uuid(), campaign_id, visitor_id, at, url, fields from lead where email = $1 returning id`,
    [email],
  );
  await pool.query(`delete from lead where id = $1`, [before.id]);
  await pool.query(`update lead set note = $2, tags = $3 where email = $1`, [email, `note-${name}`, [`leadtag-${name}`]]);
  await pool.query(
    `insert into delivery (site_id, id, connection_id, lead_id, what, tries, state) select site_id, gen_random_uuid(), 'hook', id, 'lead', 1, 'sent' from lead where email = $1`,
    [email],
  );
  await pool.query(`insert into kept_member (site_id, kept_id, email, wanted, there) values ($1, 'kept', $2, true, 'yes')`, [
    siteId,
    email,
  ]);
  await pool.query(
    `insert into exchange (site_id, connection_id, at, what, status, took_ms, note) values ($1, 'hook', now(), 'lead', 200, 5, $2)`,
    [siteId, `Took ${email.toUpperCase()} in`],
  );
  await pool.query(`insert into failed_task (site_id, job, subject, name, words, at) values ($1, 'mail copy', $2, 'A copy', $3, now())`, [
    siteId,
    thread,
    `550 no such user: ${email}`,
  ]);
  await pool.query(
    `insert into page_entry (site_id, id, url, title) select $1, coalesce(max(id), 0) + 1, $2, $3 from page_entry where site_id = $1`,
    [siteId, open.url, open.title],
  );
  return {
    email,
    browser,
    customer,
    marks: [
      email,
      customer,
      browser,
      `only/${name}`,
      `Title of ${name}`,
      ...['label', 'prop', 'trait', 'tag', 'field', 'line', 'picture', 'note', 'leadtag'].map((one) => `${one}-${name}`),
      `${name}-dear`,
    ],
  };
}

async function connections(): Promise<void> {
  const { pool } = tested.database;
  const siteId = tested.site.id;
  await insertSegment(pool, { siteId, id: 'seg', name: 'All', lookback: 90, people: { kind: 'did', event: 'booking', times: { min: 1 } } });
  for (const id of ['hook', 'ads'])
    await insertConnection(pool, siteId, {
      id,
      name: id === 'hook' ? 'The hook' : 'The audience',
      body:
        id === 'hook'
          ? { kind: 'hook', settings: { url: 'http://127.0.0.1:1' } }
          : { kind: 'audience', settings: { url: 'http://127.0.0.1:1', audience: 'a' } },
      secret: encrypt('whsec_a2V5', boundTo(siteId, id)),
    });
  await keepSegment(pool, siteId, { id: 'kept', segment: 'seg', connection: 'ads' });
}

test('every table that there is is named in the map, and those of visitors are what somebody leaves a mark in', async () => {
  const { pool } = tested.database;
  const tables = await many<{ name: string }>(
    pool,
    `select relname as name from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'p') and not relispartition order by 1`,
  );
  expect(tables.map(({ name }) => name)).toEqual(Object.keys(DATA_MAP).sort());
  await connections();
  await somebody('anna', NOW - 3 * DAY);
  await sealSites(new ReadSide(pool), [tested.site.id], { now: NOW, log: () => undefined });
  await pool.query(
    `insert into sealed_day (site_id, day, views, pages, visitors, instants, engaged, scrolls) values ($1, '2026-11-23', 0, '', '', '', '', '')`,
    [tested.site.id],
  );
  await pool.query(`insert into standing (site_id, nth, head, bytes) values ($1, 0, '{}', '')`, [tested.site.id]);
  const filled = await Promise.all(
    visitorTables().map(async (table) => [
      table,
      (await one<{ some: boolean }>(pool, `select exists (select from ${table}) as some`)).some,
    ]),
  );
  // A table of visitors that nothing is put into here could be forgotten by erasing, unseen.
  expect(filled).toEqual(visitorTables().map((table) => [table, true]));
});

test.each(['email', 'customer', 'browser'] as const)(
  'somebody found by %s is erased from everything, at connections, too, and nobody else is',
  async (by) => {
    const { pool } = tested.database;
    const siteId = tested.site.id;
    await connections();
    const [anna, ben] = [await somebody('anna', NOW - 3 * DAY), await somebody('ben', NOW - 3 * DAY)];
    // The same person in another browser, known by the email.
    const second = newUuid();
    const open = opened();
    await tested.send([open, { kind: 'person', id: newUuid(), at: open.at + 1000, email: anna.email.toUpperCase() }], { browser: second });
    await sealSites(new ReadSide(pool), [siteId], { now: NOW, log: () => undefined });
    const value = by === 'email' ? anna.email : by === 'customer' ? anna.customer : second;
    const person = await findPerson(pool, siteId, { by, value });
    expect(person).toMatchObject({ emails: [anna.email] });
    expect(person.visitors).toHaveLength(2);
    const full = dump(tested);
    expect(leftIn(full, anna.marks)).toEqual(anna.marks);

    await pool.query(`insert into standing (site_id, nth, head, bytes) values ($1, 0, '{}', '')`, [siteId]);
    let text = '';
    for await (const part of exportPerson(pool, siteId, person)) text += part;
    const exported = JSON.parse(text) as Record<string, unknown[]>;
    expect(leftIn(text, anna.marks).sort()).toEqual(anna.marks.filter((mark) => !mark.startsWith('picture')).sort());
    expect(exported['line_picture']).toMatchObject([{ webp: Buffer.from('picture-anna').toString('base64') }]);
    expect(leftIn(text, ben.marks)).toEqual([]);
    const counted = await countPerson(pool, siteId, person);
    expect(
      Object.fromEntries(
        Object.entries(exported)
          .filter(([name, rows]) => rows.length > 0 && name in counted)
          .map(([name, rows]) => [name, rows.length]),
      ),
    ).toEqual(counted);
    expect(counted).toMatchObject({ visitor: 2, visit: 2, page_view: 2, lead: 1, thread: 1, line: 2, showing: 1, event: 1, delivery: 1 });

    const receipt = await erasePerson(pool, siteId, { person, by: 'Ines', foundBy: by });
    expect(receipt).toMatchObject({ by: 'Ines', foundBy: by, rows: counted, told: ['The audience', 'The hook'] });
    expect(await listReceipts(pool, siteId)).toEqual([
      {
        ...receipt,
        owed: [
          { connection: 'The audience', tries: 0, reason: '' },
          { connection: 'The hook', tries: 0, reason: '' },
        ],
      },
    ]);
    // Whoever refuses is asked again, and named as not having done it; who does it is told.
    let at = Date.now() + 1000;
    const answer = (verdict: Verdict) => deliverDue(pool, { now: () => at, send: async () => ({ verdict, status: 403, note: '' }) });
    await answer({ is: 'never', reason: 'answered 403' });
    expect((await listReceipts(pool, siteId))[0]?.owed).toEqual([
      { connection: 'The audience', tries: 1, reason: 'answered 403' },
      { connection: 'The hook', tries: 1, reason: 'answered 403' },
    ]);
    at += 40 * DAY;
    await answer({ is: 'never', reason: 'answered 410' });
    expect((await listReceipts(pool, siteId))[0]?.owed.map(({ tries, reason }) => [tries, reason])).toEqual([
      [2, 'answered 410'],
      [2, 'answered 410'],
    ]);
    // Until they have been told, what tells the connections is all that is left.
    expect(leftIn(dump(tested), [...anna.marks, second])).toEqual([anna.email]);
    at += DAY;
    await answer({ is: 'sent' });
    expect((await listReceipts(pool, siteId))[0]?.owed).toEqual([]);
    const after = dump(tested);
    expect(leftIn(after, [...anna.marks, second])).toEqual([]);
    expect(leftIn(after, ben.marks)).toEqual(ben.marks);
    expect(await findPerson(pool, siteId, { by: 'customer', value: anna.customer })).toEqual({ visitors: [], emails: [], others: [] });
    // Days that they were in are sealed anew, without them and with the others.
    expect(await many(pool, `select from sealed_visits where history is not null union all select from standing`)).toEqual([]);
    await pool.query(`update late_day set at = at - interval '1 hour'`);
    await sealSites(new ReadSide(pool), [siteId], { now: NOW, log: () => undefined });
    expect(await one(pool, `select sum(visits)::int as visits from sealed_visits`)).toEqual({ visits: 1 });
  },
);

test('somebody is found by whatever they once said that they are; what others reported of them goes out of that, and the others stay', async () => {
  const { pool } = tested.database;
  const siteId = tested.site.id;
  const [old, now, friend] = [newUuid(), newUuid(), newUuid()];
  const [email, later] = ['Anna.Berg+x@post.example', 'anna@elsewhere.example'];
  const secret = await useSecret(tested);
  const said = (address: string, at: number) => signed(secret, { at, email: address, customerId: `c-${address}` });
  const open = opened();
  await tested.send([open, said(email, open.at + 1000), said(later, open.at + 2000)], { browser: old });
  const other = opened();
  await tested.send([other, said(email.toLowerCase(), other.at + 1000)], { browser: now });
  const third = opened();
  const event = {
    view: third.view,
    visit: third.visit,
    at: third.at + 1000,
    name: 'invited',
    props: { friend: `${email.toUpperCase()}, soon`, hut: 'Skarn' },
  };
  await tested.send([third, pieceItem(third), { kind: 'event', id: newUuid(), ...event }], { browser: friend });
  const ids = await many<{ id: number; browser: string }>(pool, `select id, browser_id::text as browser from visitor`);
  const of = (...browsers: string[]) => ids.filter(({ browser }) => browsers.includes(browser)).map(({ id }) => id);
  const everybody = {
    visitors: expect.arrayContaining(of(old, now)) as number[],
    emails: expect.arrayContaining([later, email.toLowerCase()]) as string[],
    others: [],
  };
  for (const [by, value] of [
    ['email', email],
    ['email', later],
    ['customer', `c-${email}`],
  ] as const) {
    const person = await findPerson(pool, siteId, { by, value });
    expect(person).toEqual(everybody);
    expect(person.visitors).toHaveLength(2);
  }
  const person = await findPerson(pool, siteId, { by: 'email', value: email });
  expect((await erasePerson(pool, siteId, { person, by: 'Ines', foundBy: 'email' })).rows).toMatchObject({
    visitor: 2,
    mention: 1,
  });
  expect(await many(pool, `select id from visitor`)).toEqual(of(friend).map((id) => ({ id })));
  expect(await many(pool, `select props from event`)).toEqual([{ props: { friend: '(erased), soon', hut: 'Skarn' } }]);
  expect(leftIn(dump(tested).toLowerCase(), [email.toLowerCase(), later])).toEqual([]);
});

test('nobody of another site is found, nor anybody by what stands for others in a pattern', async () => {
  const { pool } = tested.database;
  await connections();
  const anna = await somebody('anna');
  for (const value of ['%', '_', '', 'anna', anna.email.slice(1)])
    expect([value, (await findPerson(pool, tested.site.id, { by: 'email', value })).visitors]).toEqual([value, []]);
  expect((await findPerson(pool, tested.site.id + 1, { by: 'email', value: anna.email })).visitors).toEqual([]);
  expect((await findPerson(pool, tested.site.id, { by: 'browser', value: "' or true --" })).visitors).toEqual([]);
});

test('what is kept no longer goes by itself, each for its own time; who comes still is known still', async () => {
  const { pool } = tested.database;
  const siteId = tested.site.id;
  await connections();
  const old = await somebody('old', NOW - 25 * DAY);
  const recent = await somebody('recent', NOW - 5 * DAY);
  // Known for long, and here again: the old visit goes, the visitor stays.
  const loyal = await somebody('loyal', NOW - 25 * DAY);
  await tested.send([opened()], { browser: loyal.browser });
  await pool.query(`update thread set last_at = begun_at`);
  expect(await letGo(pool, NOW)).toEqual({ visits: 0, leads: 0, conversations: 0 });
  await setKept(pool, siteId, { visits: null, leads: 20, conversations: null });
  expect(await letGo(pool, NOW)).toEqual({ visits: 0, leads: 2, conversations: 0 });
  await setKept(pool, siteId, { visits: 20, leads: null, conversations: 20 });
  expect(await keptOf(pool, siteId)).toEqual({ visits: 20, leads: null, conversations: 20 });
  expect(await letGo(pool, NOW)).toEqual({ visits: 2, leads: 0, conversations: 2 });
  expect(await letGo(pool, NOW)).toEqual({ visits: 0, leads: 0, conversations: 0 });
  await pool.query(`delete from kept_member; delete from exchange; delete from failed_task`);
  const text = dump(tested);
  expect(leftIn(text, old.marks)).toEqual([]);
  expect(
    leftIn(
      text,
      recent.marks.filter((mark) => mark !== `Took`),
    ),
  ).toEqual(recent.marks);
  expect(leftIn(text, loyal.marks).sort()).toEqual([loyal.email, loyal.customer, loyal.browser, 'trait-loyal', 'tag-loyal'].sort());
  await expect(setKept(pool, siteId, { visits: 3, leads: null, conversations: null })).rejects.toThrow(/site_keeps_days/);
});
