import type { ClientRequest } from 'node:http';
import { Agent, request } from 'node:http';
import { createDice } from '@/core/random/dice';
import { withTransaction } from '@/server/db/pool';
import { addLine } from '@/server/db/threads';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../../ground';
import { sized } from '../../sized';
import type { Wrongs } from '../ground';
import { batchOf, inWords, KEY, makeSite, openOf, ORIGIN, pause, send } from '../ground';

const STREAMS = sized(10_000, 300);
const THREADS = sized(1_000, 60);
/** Of one address, as the collector takes them. */
const AN_ADDRESS = 200;
const SOON_MS = 60_000;
const RETRY_MS = 2_000;

interface Stream {
  sent: ClientRequest | undefined;
  text: string;
  isOpen: boolean;
}

/** Ten thousand pages listen at once: whoever else comes is answered, a line is heard, and once they have gone nothing of them is left. */
export async function runStreams(): Promise<Wrongs> {
  const { url, pool, siteId } = await makeSite();
  const wrongs: string[] = [];
  await pool.query(
    `insert into campaign (site_id, id, name, status, position, goal, rule, flow) values ($1, 'camp', 'Chat', 'live', 1, '{"kind":"reply"}', '{}', '{"start":"a","messages":[]}')`,
    [siteId],
  );
  // Addresses are told by a header here, as behind a proxy.
  const collector = await startCollector(url, await freePort(), { CRINDLE_TRUST_PROXY: '1' });
  const { port } = collector;
  const dice = createDice('streams');
  const uuid = (): string => dice.uuid(Date.now());
  const threads: { thread: string; browser: string }[] = [];
  for (let nth = 0; nth < THREADS; nth++) {
    const [browser, thread, view, visit, showing] = [uuid(), uuid(), uuid(), uuid(), uuid()];
    const of = { view, visit, showing, campaign: 'camp' };
    const { status, text } = await send(port, {
      body: batchOf(browser, [
        openOf(view, visit),
        { kind: 'showing', id: showing, view, visit, at: Date.now(), campaign: 'camp', release: 1, shown: true },
        { kind: 'line', id: uuid(), ...of, thread, at: Date.now(), by: 'visitor', text: 'Hello' },
      ]),
    });
    if (status !== 200 || text.includes('"ok":false')) wrongs.push(`a conversation was not begun: ${status} ${text.slice(0, 200)}`);
    threads.push({ browser, thread });
  }
  const agent = new Agent({ keepAlive: false, maxSockets: Infinity });
  const streams: Stream[] = [];
  let again = 0;
  let isOver = false;
  /** Listens as a page does: whoever is not let in or is cut off comes again. */
  const listen = (stream: Stream, path: string, address: string): void => {
    stream.sent = request({ host: '127.0.0.1', port, agent, path, headers: { origin: ORIGIN, 'x-forwarded-for': address } });
    const comeAgain = (): void => {
      stream.isOpen = false;
      if (isOver) return;
      again++;
      setTimeout(() => !isOver && listen(stream, path, address), RETRY_MS);
    };
    stream.sent.on('response', (response) => {
      stream.isOpen = response.statusCode === 200;
      response.on('data', (part: Buffer) => (stream.text += part.toString()));
      response.on('error', comeAgain);
    });
    stream.sent.on('error', comeAgain);
    stream.sent.end();
  };
  for (let nth = 0; nth < STREAMS; nth++) {
    const { browser, thread } = threads[nth % threads.length] as (typeof threads)[number];
    const stream: Stream = { sent: undefined, text: '', isOpen: false };
    const address = Math.floor(nth / AN_ADDRESS);
    listen(stream, `/talk/${KEY}/${thread}?browser=${browser}&after=0`, `198.51.${Math.floor(address / 250)}.${address % 250}`);
    streams.push(stream);
    // A thousand a second and more, each with its own question to the database.
    if (nth % 100 === 99) await pause(50);
  }
  const until = async (holds: () => boolean): Promise<boolean> => {
    for (const end = Date.now() + SOON_MS; Date.now() < end; await pause(50)) if (holds()) return true;
    return holds();
  };
  await until(() => streams.every(({ text }) => text.includes('Hello')));
  const open = streams.filter(({ isOpen, text }) => isOpen && text.includes('Hello')).length;
  if (open < STREAMS) wrongs.push(`${inWords(open)} of ${inWords(STREAMS)} listen`);
  // Others come meanwhile.
  const waits: number[] = [];
  for (let nth = 0; nth < 50; nth++) {
    const { status, ms } = await send(port, { body: batchOf(uuid(), [openOf(uuid(), uuid())]) });
    waits.push(ms);
    if (status !== 200) wrongs.push(`A visitor beside them was answered ${status}`);
  }
  const slowest = Math.max(...waits);
  if (slowest > 3_000) wrongs.push(`A visitor beside them waited ${inWords(slowest)} ms`);
  const { status: health } = await send(port, { path: '/health', method: 'GET' });
  if (health !== 200) wrongs.push(`/health is ${health}`);
  const first = threads[0] as (typeof threads)[number];
  const { rows } = await pool.query<{ id: number }>(
    `insert into member (email, name, password_hash) values ('a@faults.example', 'A', '') returning id`,
  );
  await withTransaction(pool, (tx) =>
    addLine(tx, siteId, first.thread, { id: uuid(), by: 'team', member: rows[0]?.id ?? 0, text: 'An answer' }, 'answers'),
  );
  const listeners = streams.filter((_, nth) => nth % threads.length === 0);
  const began = performance.now();
  if (!(await until(() => listeners.every(({ text }) => text.includes('An answer')))))
    wrongs.push('A line was not heard by all who listen to it');
  const heardMs = performance.now() - began;
  // One address alone is not let take them all.
  let refused = 0;
  await Promise.all(
    Array.from({ length: 400 }, async (_, nth) => {
      const { browser, thread } = threads[nth % threads.length] as (typeof threads)[number];
      const answer = await new Promise<number>((resolve) => {
        const sent = request({
          host: '127.0.0.1',
          port,
          agent,
          path: `/talk/${KEY}/${thread}?browser=${browser}&after=0`,
          headers: { origin: ORIGIN, 'x-forwarded-for': '203.0.113.9' },
        });
        sent.on('response', (response) => {
          resolve(response.statusCode ?? 0);
          streams.push({ sent, text: '', isOpen: true });
          response.on('error', () => undefined);
          response.resume();
        });
        sent.on('error', () => resolve(0));
        sent.end();
      });
      if (answer !== 200) refused++;
    }),
  );
  if (refused < 50) wrongs.push(`Of 400 streams of one address ${refused} were refused, expected those beyond 300`);
  isOver = true;
  for (const { sent } of streams) sent?.destroy();
  const left = async (): Promise<number> =>
    Number(/crindle_listening(?:\{[^}]*\})? (\d+)/.exec((await send(port, { path: '/metrics', method: 'GET' })).text)?.[1] ?? NaN);
  let rest = await left();
  for (const end = Date.now() + SOON_MS; rest > 0 && Date.now() < end; rest = await left()) await pause(100);
  if (rest !== 0) wrongs.push(`Once all have gone, ${rest} are counted as listening`);
  collector.process.kill('SIGKILL');
  await pool.end();
  console.log(
    `streams: ${inWords(open)} pages listened at once (${inWords(again)} came more than once until they were let in); visitors beside them waited ${inWords(slowest)} ms at most; a line was heard within ${inWords(heardMs)} ms; of 400 more from one address ${refused} were refused; once they had gone ${rest} were left`,
  );
  return wrongs;
}
