// What a page with a wrong clock, a stranger's program or a database in trouble may bring.
import { once } from 'node:events';
import type { IncomingMessage } from 'node:http';
import { connect } from 'node:net';
import pg from 'pg';
import { DAY_MS } from '@/core/time/day';
import { one } from '../db/queryable';
import { listRefusals } from '../db/sites';
import { loadVisitors } from '../db/visitors';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { batchOf, collectorOn, collectorUnderTest, NOW, opened as open, post } from '../testing/collectorUnderTest';
import type { openItem } from '../testing/items';
import { workerTask } from '../testing/workerTask';
import { newUuid, pieceItem, showingItem } from '../testing/items';
import { eventually } from '../testing/eventually';

let tested: CollectorUnderTest;
beforeAll(async () => {
  tested = await collectorUnderTest();
});
afterAll(() => tested.end());

const send: CollectorUnderTest['send'] = (...given) => tested.send(...given);
const rows: CollectorUnderTest['rows'] = (...given) => tested.rows(...given);
const ok = { ok: true };

describe('ids of an odd clock', () => {
  test('go to the default partition, and move out of it when their month comes', async () => {
    const browser = newUuid();
    // Years ahead of any day on which this runs.
    const at = new Date(Date.now() + 1200 * DAY_MS);
    const month = at.toISOString().slice(0, 7).replace('-', '');
    const view = newUuid(at.getTime());
    const odd = open({ view });
    expect((await send([odd, pieceItem(odd)], { browser })).answer.items).toEqual([ok, ok]);
    const placed = () =>
      rows(
        `select 'page_view' as t, tableoid::regclass::text as part from page_view where id = $1
                               union all select 'signal_piece', tableoid::regclass::text from signal_piece where view_id = $1 order by 1`,
        view,
      );
    expect((await placed()).map(({ part }) => part)).toEqual(['page_view_rest', 'signal_piece_rest']);
    await tested.database.pool.query(`select add_partitions($1)`, [at]);
    expect((await placed()).map(({ part }) => part)).toEqual([`page_view_${month}`, `signal_piece_${month}`]);
    expect((await send([pieceItem(odd, { piece: 1, leave: 90_000 })], { browser })).answer.items).toEqual([ok]);
    expect(await rows(`select leave_ms from page_view where id = $1`, view)).toEqual([{ leave_ms: 90_000 }]);
    await tested.database.pool.query(`select add_partitions($1)`, [at]);
  });

  test('one task of housekeeping that fails takes no other along, and says so', async () => {
    await tested.database.pool.query(
      `insert into trash (site_id, kind, id, row, deleted_at) values ($1, 'segment', 'old', '{}', now() - interval '31 days')`,
      [tested.site.id],
    );
    const said: string[] = [];
    const { pool } = tested.database;
    const query = pool.query.bind(pool);
    const failing = jest
      .spyOn(pool, 'query')
      .mockImplementation(((sql: string, values: unknown[]) =>
        sql.includes('add_partitions') ? Promise.reject(new Error('partition is in the way')) : query(sql, values)) as never);
    await expect(workerTask('housekeeping', pool, (words) => said.push(words))).rejects.toThrow('2 of 15 tasks failed');
    failing.mockRestore();
    expect(said).toHaveLength(2);
    expect(await rows(`select from trash where id = 'old'`)).toEqual([]);
  });
});

describe('values that no database can hold', () => {
  test.each([1e300, -1e300, 9e15, -1])('a clock of %d is no clock', async (now) => {
    const { status, answer } = await send([open()], { now });
    expect({ status, code: answer.error?.code }).toEqual({ status: 400, code: 'body.shape' });
    expect(answer.error?.message).toMatch(/^now: met /);
  });

  test.each<[string, (o: ReturnType<typeof openItem>) => unknown, object]>([
    ['a release beyond counting', (o) => showingItem(o, { release: 2 ** 31 }), { ok: false, code: 'item.shape' }],
    [
      'a signal kind that is an object',
      (o) => ({ ...pieceItem(o), signals: [[1, { valueOf: 1, toString: 1 }]] }),
      { ok: false, code: 'item.shape' },
    ],
    ['a tab that was open for 40 days', (o) => pieceItem(o, { leave: 40 * DAY_MS, engaged: 26 * DAY_MS }), ok],
    [
      'a zero in the name of a property',
      (o) => ({ kind: 'event', id: newUuid(), view: o.view, visit: o.visit, at: o.at, name: 'a\u0000b', props: { 'x\u0000': 'y\u0000' } }),
      ok,
    ],
    [
      'half a pair',
      (o) => ({ kind: 'event', id: newUuid(), view: o.view, visit: o.visit, at: o.at, name: 'half \ud83c', props: { '\udf54': '\ud83c' } }),
      ok,
    ],
    ['a trait of zeros alone', () => ({ kind: 'person', id: newUuid(), at: NOW, traits: { plan: '\u0000' } }), ok],
  ])('%s is answered for itself, and all beside it is stored', async (_what, poison, expected) => {
    const first = open();
    const { status, answer } = await send([first, poison(first), pieceItem(first), showingItem(first)]);
    expect(status).toBe(200);
    expect(answer.items).toEqual([ok, expect.objectContaining(expected), ok, ok]);
    const event = await rows(`select name, props from event where view_id = $1`, first.view);
    if (event[0]) expect(JSON.stringify(event)).toMatch(/"name":"(ab","props":{"x":"y"}|half \ufffd","props":{"\ufffd":"\ufffd"})/);
  });

  test('an address with a zero in it is refused, not an error', async () => {
    expect((await tested.server.inject({ url: '/r/%00/x' })).statusCode).toBe(400);
    const key = await post(tested.server, JSON.stringify({ key: 'a\u0000b', browser: newUuid(), now: NOW, items: [] }));
    expect([key.status, key.answer.error?.code]).toEqual([404, 'site.unknown']);
  });

  test('what the database refuses all the same is the answer of that item, found in few steps', async () => {
    await tested.database.pool.query(`alter table event add constraint no_poison check (name <> 'poison')`);
    const error = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const connects = jest.spyOn(tested.database.pool, 'connect');
    const hundreds = async () => {
      const first = open();
      const event = (name: string) => ({ kind: 'event', id: newUuid(), view: first.view, visit: first.visit, at: NOW, name, props: {} });
      const events = Array.from({ length: 200 }, (_, nth) => event(nth === 157 ? 'poison' : 'fine'));
      const { answer } = await send([first, ...events]);
      return answer.items.flatMap((item, nth) => (item.ok ? [] : [[nth, item.code]]));
    };
    expect(await Promise.all([hundreds(), hundreds(), hundreds()])).toEqual(Array(3).fill([[158, 'item.unstorable']]));
    // Of each bad one, two for each time that half of a group is halved, and not one for each of its neighbours.
    expect(connects.mock.calls.length).toBeLessThan(100);
    expect(await rows(`select count(*)::int as n from event where name = 'fine'`)).toEqual([{ n: 597 }]);
    connects.mockRestore();
    error.mockRestore();
    await tested.database.pool.query(`alter table event drop constraint no_poison`);
  });

  test('two views of one visit that were looked at for ever close with it', async () => {
    const browser = newUuid();
    const first = open();
    const second = open({ visit: first.visit });
    await send([first, second, ...[first, second].map((one) => pieceItem(one, { engaged: 2e9, leave: 1000 }))], { browser });
    await tested.database.pool.query(
      `update visit set last_at = now() - interval '1 hour', started_at = now() - interval '2 hours' where id = $1`,
      [first.visit],
    );
    await workerTask('close-visits', tested.database.pool);
    expect(await rows(`select views, engaged_ms, closed_at is not null as closed from visit where id = $1`, first.visit)).toEqual([
      { views: 2, engaged_ms: 2 ** 31 - 1, closed: true },
    ]);
  });
});

describe('instants', () => {
  test.each([
    ['a clock at the beginning of time, its items at its own', 0, 0],
    ['a clock at the beginning of time, its items at the right one', 0, NOW],
    ['a clock of a far future, its items at the right one', 1e13, NOW],
    ['a clock three years ahead', NOW + 1100 * DAY_MS, NOW + 1100 * DAY_MS],
    ['a clock three years behind', NOW - 1100 * DAY_MS, NOW - 1100 * DAY_MS],
  ])('%s: nothing lies ahead of the server or very long ago', async (_what, now, at) => {
    const odd = open({ at, visitAt: at });
    expect((await send([odd], { now })).answer.items).toEqual([ok]);
    const { off } = await one<{ off: number }>(tested.database.pool, `select ($2 - ms(at))::float8 as off from page_view where id = $1`, [
      odd.view,
      NOW,
    ]);
    expect(off).toBeGreaterThanOrEqual(-5000);
    expect(off).toBeLessThanOrEqual(30 * DAY_MS);
  });

  test('a request that has travelled for long does not shift what it brings', async () => {
    const slow = open({ at: NOW - 9000 });
    await send([slow], { now: NOW - 6000 });
    expect(await rows(`select ms(at)::float8 as at from page_view where id = $1`, slow.view)).toEqual([{ at: NOW - 9000 }]);
  });

  test('nothing of a view happens before it was opened', async () => {
    const first = open();
    const event = {
      kind: 'event',
      id: newUuid(),
      view: first.view,
      visit: first.visit,
      at: first.at - 5 * DAY_MS,
      name: 'early',
      props: {},
    };
    await send([first, event]);
    expect(await rows(`select ms(at)::float8 as at from event where id = $1`, event.id)).toEqual([{ at: first.at }]);
  });
});

test('the id of a view, of a visit or of a showing alone lets nobody add to them', async () => {
  const first = open();
  const showing = showingItem(first);
  await send([first, showing]);
  const where = { view: first.view, visit: first.visit };
  const { answer } = await send([
    open({ url: 'http://site.example/own' }),
    pieceItem(first, { title: 'Taken over', piece: 7 }),
    { kind: 'event', id: newUuid(), ...where, at: NOW, name: 'booking', props: {} },
    showingItem(first),
    { kind: 'outcome', showing: showing.id, outcome: 'dismissed', how: 'escape', at: NOW },
    { kind: 'step', showing: showing.id, message: 'second', at: NOW },
    { kind: 'form', id: newUuid(), ...where, showing: showing.id, campaign: 'c', at: NOW, url: first.url, fields: {} },
    open({ visit: first.visit }),
  ]);
  expect(answer.items.map((item) => (item.ok ? 'ok' : item.code))).toEqual([
    'ok',
    'view.unknown',
    'view.unknown',
    'view.unknown',
    'showing.unknown',
    'showing.unknown',
    'view.unknown',
    'visit.foreign',
  ]);
  expect(await rows(`select title from page_view where id = $1`, first.view)).toEqual([{ title: first.title }]);
});

test('parameters that the site does not keep are not kept with a lead either', async () => {
  const first = open();
  const id = newUuid();
  const url = 'http://site.example/huts?token=secret&utm_source=letter';
  await send([
    first,
    { kind: 'form', id, view: first.view, visit: first.visit, showing: newUuid(), campaign: 'c', at: NOW, url, fields: {} },
  ]);
  expect(await rows(`select url from lead where id = $1`, id)).toEqual([{ url: 'http://site.example/huts?utm_source=letter' }]);
});

test('whoever invents origins, agents and faults fills no table', async () => {
  const agents = Array.from({ length: 260 }, (_, nth) => `robot-${nth} (+http://bots.example/bot)`);
  for (const agent of agents) await post(tested.server, batchOf([]), agent);
  const [{ n } = { n: 0 }] = (await rows(`select count(*)::int as n from refused where reason = 'robot'`)) as { n: number }[];
  expect(n).toBe(201);
  expect((await listRefusals(tested.database.pool, tested.site.id)).find(({ subject }) => subject === 'others')?.times).toBe(60);
  const fault = (nth: number) => ({ kind: 'fault', id: newUuid(), at: NOW, entry: 'show', message: `what ${nth}` });
  const same = fault(0);
  await send([...Array.from({ length: 250 }, (_, nth) => fault(nth)), same, same, same]);
  await send([same]);
  expect(await rows(`select count(*)::int as kinds, sum(times)::int as times from fault`)).toEqual([{ kinds: 201, times: 251 }]);
});

test('one browser that opens pages by the hundred is a robot: it is told, and costs nobody else anything', async () => {
  const browser = newUuid();
  let nth = 0;
  const hundred = () =>
    send(
      Array.from({ length: 100 }, () => open({ at: NOW - 1000 + ++nth, visitAt: NOW - 1000 + nth })),
      { browser },
    );
  for (let times = 0; times < 6; times++) expect((await hundred()).answer.items[0]).toEqual(ok);
  expect((await hundred()).answer.items[0]).toMatchObject({ ok: false, code: 'browser.tooFast' });
  expect((await send([open()])).answer.items).toEqual([ok]);
  expect(await rows(`select subject, times from refused where subject like 'one browser%'`)).toEqual([
    { subject: 'one browser that opens more than 600 pages an hour', times: 1 },
  ]);
  const [{ id } = { id: 0 }] = (await rows(`select id from visitor where browser_id = $1`, browser)) as { id: number }[];
  const views = async (most?: number) =>
    (await loadVisitors(tested.database.pool, tested.site.id, [id], most === undefined ? {} : { most }))[0]?.record.visits.flatMap(
      (visit) => visit.views,
    );
  expect([(await views())?.length, (await views(50))?.length]).toEqual([600, 50]);
});

describe('a database in trouble', () => {
  const inTrouble = async (options: string, more: object = {}) => {
    const pool = new pg.Pool({ connectionString: tested.database.url, options, max: 3 });
    pool.on('error', () => undefined);
    const other = await collectorOn(pool, more);
    return { other, end: () => other.close().then(() => pool.end()) };
  };
  const payload = () => batchOf([open()]);

  test('that may not be written says so, with a time to come again, and its health is red', async () => {
    const { other, end } = await inTrouble('-c default_transaction_read_only=on');
    const { status, retryAfter, answer } = await post(other, payload());
    expect({ status, retryAfter, code: answer.error?.code }).toEqual({ status: 503, retryAfter: '5', code: 'database.readOnly' });
    const health = await other.inject({ url: '/health' });
    expect([health.statusCode, health.json()]).toMatchObject([503, { error: { code: 'database.readOnly' } }]);
    await end();
  });

  test('of which somebody holds a table says so, and is well again with the next write', async () => {
    const { other, end } = await inTrouble('');
    // As when a wait for a lock has come to its end, without a clock that may be another's here.
    await tested.database.pool.query(`
      create function held() returns trigger language plpgsql as $$ begin raise exception using errcode = 'lock_not_available'; end $$;
      create trigger held before insert on visit for each statement execute function held()`);
    const held = await post(other, payload());
    expect([held.status, held.retryAfter, held.answer.error?.code]).toEqual([503, '5', 'database.locked']);
    expect((await other.inject({ url: '/health' })).statusCode).toBe(503);
    await tested.database.pool.query('drop trigger held on visit');
    expect((await post(other, payload())).status).toBe(200);
    expect((await other.inject({ url: '/health' })).statusCode).toBe(200);
    await end();
  });

  test('is not said to be by whoever hangs up in the middle of a request', async () => {
    const { other, end } = await inTrouble('');
    const { port, hostname } = new URL(await other.listen({ port: 0, host: '127.0.0.1' }));
    for (const path of ['/c', '/check', '/try']) {
      const socket = connect(Number(port), hostname);
      socket.write(`POST ${path} HTTP/1.1\r\nhost: x\r\ncontent-type: text/plain\r\ncontent-length: 500\r\n\r\n{"site"`);
      const [met] = (await once(other.server, 'request')) as [IncomingMessage];
      socket.resetAndDestroy();
      await eventually(() => met.destroyed);
    }
    expect((await fetch(`http://${hostname}:${port}/health`)).status).toBe(200);
    await end();
  });

  test('nor is anything said to be wrong where hundreds do at once', async () => {
    const { other, end } = await inTrouble('');
    const failures = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const { port } = new URL(await other.listen({ port: 0, host: '127.0.0.1' }));
    await Promise.all(
      Array.from(
        { length: 400 },
        () =>
          new Promise<void>((resolve) => {
            const socket = connect(Number(port), '127.0.0.1', () =>
              socket.write('POST /c HTTP/1.1\r\nhost: x\r\ncontent-type: text/plain\r\ncontent-length: 5000\r\n\r\n{"key":', () =>
                socket.resetAndDestroy(),
              ),
            );
            socket.on('error', () => undefined).on('close', () => resolve());
          }),
      ),
    );
    expect((await fetch(`http://127.0.0.1:${port}/health`)).status).toBe(200);
    expect(failures.mock.calls).toEqual([]);
    failures.mockRestore();
    await end();
  });

  test('is not asked for its health more often than once a second', async () => {
    const query = jest.spyOn(tested.database.pool, 'query');
    await Promise.all(Array.from({ length: 50 }, () => tested.server.inject({ url: '/health' })));
    expect(query.mock.calls.length).toBeLessThanOrEqual(1);
    query.mockRestore();
  });

  test('or not: a body that comes by drops is cut', async () => {
    const { other, end } = await inTrouble('', { slowestMs: 300 });
    const { port } = new URL(await other.listen({ port: 0, host: '127.0.0.1' }));
    const socket = connect(Number(port), '127.0.0.1');
    let isClosed = false;
    socket
      .on('close', () => (isClosed = true))
      .on('error', () => undefined)
      .resume();
    socket.write('POST /c HTTP/1.1\r\nhost: x\r\ncontent-type: text/plain\r\ncontent-length: 500\r\n\r\n{');
    await eventually(() => isClosed, 'the slow connection is cut');
    await end();
  });
});
