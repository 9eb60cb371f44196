// A visitor's conversation with the team: written by items, heard by a stream, or by asking once.
import type { AddressInfo } from 'node:net';
import type { FastifyInstance } from 'fastify';
import pg from 'pg';
import sharp from 'sharp';
import type { Heard } from '@/core/conversations/line';
import { saveColleague, setPresence } from '../db/colleagues';
import { createMember, joinSite } from '../db/members';
import { Watching } from '../conversations/watch';
import { withTransaction } from '../db/pool';
import { sweepTalkPictures } from '../db/talkPictures';
import { addLine, announceWriting, findThread, giveThread, listThreads, passOn, seenByTeam, setThreadState } from '../db/threads';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { batchOf, collectorOn, collectorUnderTest, KEY, NOW, opened, post } from '../testing/collectorUnderTest';
import { eventually } from '../testing/eventually';
import { newUuid, showingItem } from '../testing/items';

let tested: CollectorUnderTest;
let server: FastifyInstance;
let base: string;
let [ines, jonas] = [0, 0];
beforeEach(async () => {
  tested = await collectorUnderTest();
  const { pool } = tested.database;
  server = await collectorOn(pool, { listen: () => new pg.Client({ connectionString: tested.database.url }) });
  await server.listen({ port: 0, host: '127.0.0.1' });
  base = `http://127.0.0.1:${(server.server.address() as AddressInfo).port}`;
  [ines, jonas] = (await Promise.all(
    ['ines', 'jonas'].map(async (name) => {
      const member = await createMember(pool, { email: `${name}@site.example`, name, passwordHash: '' });
      await joinSite(pool, { siteId: tested.site.id, memberId: member, role: 'agent' });
      return member;
    }),
  )) as [number, number];
});
afterEach(async () => {
  await server.close();
  await tested.end();
});

interface Visitor {
  readonly browser: string;
  readonly thread: string;
  readonly line: (text: string, more?: object) => Record<string, unknown>;
  readonly send: (...items: unknown[]) => ReturnType<typeof post>;
}

async function visitor(): Promise<Visitor> {
  const [browser, thread] = [newUuid(), newUuid()];
  const open = opened();
  const showing = showingItem(open);
  const send = (...items: unknown[]) => post(server, batchOf(items, { browser }));
  expect((await send(open, showing)).status).toBe(200);
  const of = { view: open.view, visit: open.visit, thread, showing: showing.id, campaign: 'camp' };
  return {
    browser,
    thread,
    send,
    line: (text, more = {}) => ({ kind: 'line', ...of, id: newUuid(), at: NOW, by: 'visitor', text, ...more }),
  };
}

/** Waits until an expectation holds. */
const soon = (check: () => void): Promise<void> =>
  eventually(() => {
    try {
      check();
      return true;
    } catch {
      return false;
    }
  }, check.toString());

/** Listens as a page does, until it is ended. */
function listen({ browser, thread }: Pick<Visitor, 'browser' | 'thread'>, after = 0) {
  const heard: Heard[] = [];
  const over = new AbortController();
  const response = fetch(`${base}/talk/${KEY}/${thread}?browser=${browser}&after=${after}`, {
    headers: { origin: 'http://site.example' },
    signal: over.signal,
  });
  const done = (async () => {
    let text = '';
    for await (const piece of (await response).body ?? []) {
      text += Buffer.from(piece as Uint8Array).toString();
      const events = text.split('\n\n');
      text = events.pop() ?? '';
      for (const event of events) {
        const data = /^data: (.*)$/m.exec(event)?.[1];
        if (data) heard.push(JSON.parse(data) as Heard);
      }
    }
  })().catch(() => undefined);
  const lines = () => heard.flatMap((one) => one.lines.map(({ text }) => text));
  return { heard, lines, response, end: () => (over.abort(), done), done };
}

const here = (member: number) =>
  setPresence(tested.database.pool, tested.site.id, { member, hereUntil: Date.now() + 3_600_000, awayUntil: null });
const answer = (thread: string, text: string, by: 'team' | 'note' = 'team', id = newUuid()) =>
  withTransaction(tested.database.pool, (tx) =>
    addLine(tx, tested.site.id, thread, { id, by, member: ines, text }, by === 'team' ? 'answers' : 'neither'),
  );
const waits = async (thread: string) => (await findThread(tested.database.pool, tested.site.id, thread))?.waitsSince ?? null;

test('the script’s questions and answers wait for nobody; what is written to a person does, until somebody answers; each line is heard once, in order', async () => {
  await here(ines);
  const { thread, browser, line, send } = await visitor();
  const listener = listen({ thread, browser });
  await send(line('Is anything in the way?', { by: 'script' }), line('The date', { answers: true }));
  expect(await waits(thread)).toBeNull();
  expect(await listThreads(tested.database.pool, tested.site.id)).toEqual([]);
  const question = line('Is Upper Moss free on the 15th?');
  await send(question);
  await send(question);
  expect(await waits(thread)).not.toBeNull();
  expect(await listThreads(tested.database.pool, tested.site.id)).toMatchObject([
    { id: thread, member: ines, lastText: 'Is Upper Moss free on the 15th?', state: 'open' },
  ]);
  await answer(thread, 'A note: their second visit', 'note');
  const own = newUuid();
  await answer(thread, 'It is.', 'team', own);
  expect(await answer(thread, 'It is.', 'team', own)).toBeUndefined();
  expect(await waits(thread)).toBeNull();
  const all = ['Is anything in the way?', 'The date', 'Is Upper Moss free on the 15th?', 'It is.'];
  await soon(() => expect(listener.lines()).toEqual(all));
  expect(listener.heard.at(-1)).toMatchObject({ state: 'open', isStaffed: true, with: { name: 'ines' } });
  // Whoever comes again asks for what they have not heard.
  const again = listen({ thread, browser }, 3);
  await soon(() => expect(again.lines()).toContain('It is.'));
  expect(again.lines()).not.toContain('The date');
  await Promise.all([listener.end(), again.end()]);
});

test('a thread is its visitor’s alone: another browser neither hears it nor writes in it, and notes are for the team', async () => {
  const { thread, browser, line, send } = await visitor();
  await send(line('Hello'));
  await answer(thread, 'secret note', 'note');
  const stranger = await visitor();
  expect((await stranger.send({ ...stranger.line('Let me in'), thread })).answer.items[0]).toMatchObject({
    ok: false,
    code: 'thread.unknown',
  });
  expect((await stranger.send({ kind: 'read', thread, seq: 1 })).answer.items[0]).toMatchObject({ ok: false, code: 'thread.unknown' });
  const once = (who: string, query = '', origin = 'http://site.example') =>
    fetch(`${base}/talk/${KEY}/${thread}?browser=${who}&once${query}`, { headers: { origin } });
  const mine = (await (await once(browser)).json()) as Heard;
  expect(mine.lines.map(({ text }) => text)).toEqual(['Hello']);
  expect((await once(browser, '', 'http://elsewhere.example')).status).toBe(404);
  expect((await once('nobody')).status).toBe(400);
  expect((await once(browser, '&after=x')).status).toBe(400);
  const listener = listen({ thread, browser: stranger.browser });
  await answer(thread, 'For Hello alone');
  const owner = listen({ thread, browser });
  await soon(() => expect(owner.lines()).toContain('For Hello alone'));
  expect(listener.heard).toEqual([]);
  await Promise.all([listener.end(), owner.end()]);
});

test('markup is text, a long line is refused, and whoever writes a hundred lines a second is slowed down', async () => {
  const { thread, browser, line, send } = await visitor();
  const bad = line('x'.repeat(1_000_000));
  expect((await send(bad)).status).toBe(413);
  expect((await send(line('y'.repeat(4001)))).answer.items[0]).toMatchObject({ ok: false, code: 'item.shape' });
  const answers = (await send(...Array.from({ length: 100 }, (_, nth) => line(`<b>${nth}</b>`)))).answer.items;
  expect(answers.filter(({ ok }) => ok)).toHaveLength(60);
  expect(answers.find(({ ok }) => !ok)).toMatchObject({ code: 'line.tooFast' });
  const listener = listen({ thread, browser });
  await soon(() => expect(listener.lines()).toHaveLength(60));
  expect(listener.lines()[0]).toBe('<b>0</b>');
  await listener.end();
});

test('whoever is here gets it in turn, whoever knows them first; if they do not answer, the next; if nobody is here, whoever comes', async () => {
  const { pool } = tested.database;
  const of = async (thread: string) => (await findThread(pool, tested.site.id, thread))?.memberName ?? null;
  const alone = await visitor();
  await alone.send(alone.line('Is somebody here?'));
  expect(await of(alone.thread)).toBeNull();
  await here(ines);
  await passOn(pool);
  expect(await of(alone.thread)).toBe('ines');
  await here(jonas);
  const second = await visitor();
  await second.send(second.line('And for me?'));
  expect(await of(second.thread)).toBe('jonas');
  // The same person comes again: whoever wrote with them.
  const again = { ...second, thread: newUuid() };
  await again.send({ ...second.line('Once more'), thread: again.thread });
  expect(await of(again.thread)).toBe('jonas');
  // Five minutes without an answer.
  await passOn(pool, Date.now() + 4 * 60_000);
  expect(await of(again.thread)).toBe('jonas');
  // Two workers look at the same time: each of the three that wait is passed on once.
  const later = Date.now() + 6 * 60_000;
  expect((await Promise.all([passOn(pool, later), passOn(pool, later)])).reduce((sum, passed) => sum + passed)).toBe(3);
  expect(await of(again.thread)).toBe('ines');
  const events = (await findThread(pool, tested.site.id, again.thread))?.lines.filter(({ by }) => by === 'event').map(({ text }) => text);
  expect(events).toEqual(['jonas has it: knows them and was asked first', 'ines has it: nobody answered in time']);
  // Whoever does not answer visitors gets none.
  await saveColleague(pool, tested.site.id, { member: jonas, answers: false, title: '', introduction: '', meeting: '', hours: null });
  expect(
    await withTransaction(pool, (tx) =>
      giveThread(tx, tested.site.id, { thread: again.thread, now: Date.now(), had: ines, passed: [ines] }),
    ),
  ).toBeUndefined();
});

test('closed, and open again as soon as the visitor writes; what was seen is told to both', async () => {
  const { pool } = tested.database;
  await here(ines);
  const { thread, browser, line, send } = await visitor();
  await send(line('Hello'));
  const listener = listen({ thread, browser });
  await soon(() => expect(listener.heard.at(-1)).toMatchObject({ seen: 0 }));
  await seenByTeam(pool, tested.site.id, thread);
  await soon(() => expect(listener.heard.at(-1)?.seen).toBeGreaterThan(0));
  await answer(thread, 'Good day');
  await send({ kind: 'read', thread, seq: 99 });
  const seen = await findThread(pool, tested.site.id, thread);
  expect(seen?.visitorSeen).toBe(seen?.lines.at(-1)?.seq);
  const close = (state: 'open' | 'closed') =>
    withTransaction(pool, (tx) => setThreadState(tx, tested.site.id, { thread, state, member: ines, name: 'ines' }));
  expect(await close('closed')).toBe(true);
  expect(await close('closed')).toBe(false);
  await soon(() => expect(listener.heard.at(-1)?.state).toBe('closed'));
  await send(line('One thing more'));
  await soon(() => expect(listener.heard.at(-1)?.state).toBe('open'));
  expect((await listThreads(pool, tested.site.id, { state: 'open', words: 'thing' })).map(({ id }) => id)).toEqual([thread]);
  expect(await listThreads(pool, tested.site.id, { words: 'nothing of the kind' })).toEqual([]);
  expect(await listThreads(pool, tested.site.id, { words: 'thing', most: 0 })).toEqual([]);
  await listener.end();
});

test('a collector that ends lets its listeners go, and one that hears no announcement looks by itself', async () => {
  const deaf = await collectorOn(tested.database.pool);
  await deaf.listen({ port: 0, host: '127.0.0.1' });
  const before = base;
  base = `http://127.0.0.1:${(deaf.server.address() as AddressInfo).port}`;
  const { thread, browser, line, send } = await visitor();
  const listener = listen({ thread, browser });
  await send(line('Hello'));
  await soon(() => expect(listener.lines()).toEqual(['Hello']));
  await deaf.close();
  await listener.done;
  base = before;
});

test('a picture goes with a line to the other side, as WebP of that thread alone; what is no picture, or of another thread, is refused', async () => {
  const { pool } = tested.database;
  const [first, second] = [await visitor(), await visitor()];
  await first.send(first.line('Look at this'));
  const upload = (of: Pick<Visitor, 'thread' | 'browser'>, body: Buffer, origin = 'http://site.example') =>
    fetch(`${base}/talk/${KEY}/${of.thread}/pictures?browser=${of.browser}`, {
      method: 'POST',
      body: new Uint8Array(body),
      headers: { origin, 'content-type': 'text/plain' },
    });
  const drawing = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#2d4a43' } })
    .withExif({ IFD0: { Copyright: 'told nobody' } })
    .jpeg()
    .toBuffer();
  const answer = await upload(first, drawing);
  const picture = (await answer.json()) as { id: string; width: number; height: number };
  expect(picture).toEqual({ id: picture.id, width: 40, height: 30 });
  expect((await first.send(first.line('hut.jpg', { picture: picture.id }))).answer.items).toEqual([{ ok: true }]);
  expect((await second.send(second.line('mine', { picture: picture.id }))).answer.items[0]).toMatchObject({ code: 'picture.unknown' });
  const listener = listen(first);
  await soon(() => expect(listener.heard.flatMap(({ lines }) => lines).at(-1)).toMatchObject({ text: 'hut.jpg', picture }));
  await listener.end();
  expect((await findThread(pool, tested.site.id, first.thread))?.lines.at(-1)).toMatchObject({ picture });
  const get = (browser: string) => fetch(`${base}/talk/${KEY}/${first.thread}/pictures/${picture.id}?browser=${browser}`);
  const got = await get(first.browser);
  expect(got.headers.get('content-type')).toBe('image/webp');
  const bytes = Buffer.from(await got.arrayBuffer());
  expect((await sharp(bytes).metadata()).format).toBe('webp');
  expect(bytes.includes('told nobody')).toBe(false);
  expect((await get(second.browser)).status).toBe(404);
  expect((await get('nobody')).status).toBe(404);

  expect((await upload(first, Buffer.from('<svg onload="x">'))).status).toBe(422);
  expect((await upload(first, Buffer.alloc(0))).status).toBe(422);
  expect((await upload(first, Buffer.alloc(5 * 1024 * 1024 + 1))).status).toBe(413);
  expect((await upload(first, drawing, 'http://elsewhere.example')).status).toBe(404);
  expect((await upload({ ...first, browser: newUuid() }, drawing)).status).toBe(404);
  // One that no line came to show is swept, the other stays.
  await upload(first, drawing);
  await pool.query(`update line_picture set at = now() - interval '2 days'`);
  expect(await sweepTalkPictures(pool)).toBe(1);
  expect((await get(first.browser)).status).toBe(200);
  // Enough is enough.
  await pool.query(
    `insert into line_picture (site_id, id, thread_id, visitor_id, width, height, bytes)
     select site_id, gen_random_uuid(), id, visitor_id, 1, 1, '' from thread, generate_series(1, 30) where id = $1`,
    [first.thread],
  );
  expect((await upload(first, drawing)).status).toBe(429);
  // Whoever is erased takes theirs along.
  await pool.query(`delete from visitor`);
  expect((await pool.query(`select from line_picture`)).rowCount).toBe(0);
});

test('that somebody writes is told to the other side, of the own thread alone, and kept nowhere', async () => {
  const { pool, url } = tested.database;
  const [first, second] = [await visitor(), await visitor()];
  await first.send(first.line('Hello'));
  const told: string[] = [];
  const watching = new Watching(
    pool,
    () => pool,
    () => new pg.Client({ connectionString: url }),
  );
  watching.watch(tested.site.id, (thread, writes) => void (writes && told.push(thread ?? '')));
  const writes = ({ browser, thread }: Pick<Visitor, 'browser' | 'thread'>) =>
    fetch(`${base}/talk/${KEY}/${thread}/writing?browser=${browser}`, { method: 'POST', headers: { origin: 'http://site.example' } });
  await eventually(async () => {
    expect((await writes({ ...first, browser: second.browser })).status).toBe(204);
    await writes(first);
    return told.length > 0;
  }, 'the team is told');
  expect(new Set(told)).toEqual(new Set([first.thread]));
  await watching.end();
  // The other way about, to the stream of that thread.
  const over = new AbortController();
  const stream = await fetch(`${base}/talk/${KEY}/${first.thread}?browser=${first.browser}`, {
    headers: { origin: 'http://site.example' },
    signal: over.signal,
  });
  let text = '';
  const reading = (async () => {
    for await (const piece of stream.body ?? []) text += Buffer.from(piece as Uint8Array).toString();
  })().catch(() => undefined);
  await eventually(async () => {
    await announceWriting(pool, tested.site.id, { thread: first.thread, by: 'Ines of the Hut' });
    return text.includes('event: writing\ndata: "Ines of the Hut"');
  }, 'the page is told');
  over.abort();
  await reading;
});

test('a copy is wanted of a conversation that is closed, by its own visitor, to an address', async () => {
  const { pool } = tested.database;
  const [first, second] = [await visitor(), await visitor()];
  await first.send(first.line('Hello'));
  const wants = (who: Visitor, email = 'anna@post.example') => who.send({ kind: 'copy', thread: first.thread, email });
  const code = async (who: Visitor, email?: string) => (await wants(who, email)).answer.items[0];
  expect(await code(first)).toMatchObject({ code: 'thread.unknown' });
  await withTransaction(pool, (tx) =>
    setThreadState(tx, tested.site.id, { thread: first.thread, state: 'closed', member: ines, name: 'Ines' }),
  );
  expect(await code(second)).toMatchObject({ code: 'thread.unknown' });
  expect(await code(first, 'no address')).toMatchObject({ code: 'copy.email' });
  expect(await code(first)).toEqual({ ok: true });
  expect((await pool.query(`select copy_to from thread where id = $1`, [first.thread])).rows).toEqual([{ copy_to: 'anna@post.example' }]);
});
