import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { request } from 'node:http';
import pg from 'pg';
import type { Heard } from '@/core/conversations/line';
import { createDice } from '@/core/random/dice';
import { Watching } from '@/server/conversations/watch';
import { withTransaction } from '@/server/db/pool';
import { addLine, findThread } from '@/server/db/threads';
import { freePort } from '@/server/testing/freePort';
import { batchOf, KEY, makeSite, ORIGIN, pause, send } from './faults/ground';
import { startCollector } from './ground';
import { median } from './median';
import { sized } from './sized';

const THREADS = sized(500, 20);
const ROUNDS = sized(400, 10);

interface Thread {
  readonly id: string;
  readonly browser: string;
  readonly line: (text: string, id: string) => Record<string, unknown>;
  hears: (text: string) => void;
}

const share = (values: readonly number[], part: number): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length * part)] ?? NaN;
const rssOf = (pid: number): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? NaN);

/** From one side of a conversation to the other with many open ones: until a page has the team's line, and until the studio has read the visitor's. */
export async function benchTalk(): Promise<void> {
  const { url, pool, siteId } = await makeSite();
  process.env['CRINDLE_DATABASE_URL'] = url;
  const collector = await startCollector(url, await freePort(), { CRINDLE_TRUST_PROXY: '1' });
  const dice = createDice('talk');
  const threads: Thread[] = [];
  for (let nth = 0; nth < THREADS; nth++) threads.push(await begin(collector.port, dice));
  const before = rssOf(collector.process.pid ?? 0);
  for (const thread of threads) await listen(collector.port, thread);
  await pause(2000);
  const after = rssOf(collector.process.pid ?? 0);
  const watching = new Watching(
    pool,
    () => pool,
    () => new pg.Client({ connectionString: url }),
  );
  let told = (_thread?: string): void => undefined;
  watching.watch(siteId, (thread) => told(thread));
  await pause(1000);

  const [toVisitor, toTeam]: [number[], number[]] = [[], []];
  for (let nth = 0; nth < ROUNDS; nth++) {
    const thread = threads[dice.whole(0, threads.length - 1)] as Thread;
    const text = `line ${nth}`;
    const heard = new Promise<void>((resolve) => (thread.hears = (said) => said === text && resolve()));
    const began = performance.now();
    await withTransaction(pool, (tx) => addLine(tx, siteId, thread.id, { id: randomUUID(), by: 'team', text }, 'answers'));
    await heard;
    toVisitor.push(performance.now() - began);

    const answer = `answer ${nth}`;
    const read = new Promise<void>((resolve) => {
      told = (of) => {
        if (of !== thread.id) return;
        void findThread(pool, siteId, thread.id).then((found) => found?.lines.at(-1)?.text === answer && resolve());
      };
    });
    const sent = performance.now();
    void send(collector.port, { body: batchOf(thread.browser, [thread.line(answer, dice.uuid(Date.now()))]) });
    await read;
    toTeam.push(performance.now() - sent);
  }
  await watching.end();
  collector.process.kill('SIGKILL');
  const words = (values: readonly number[]): string =>
    `${median(values).toFixed(0)} ms (median), ${share(values, 0.95).toFixed(0)} ms (p95; goal 150), ${Math.max(...values).toFixed(0)} ms at most`;
  console.log(`Conversations, ${THREADS} open`);
  console.log(`  from the team to the visitor's page: ${words(toVisitor)}`);
  console.log(`  from the visitor to the team: ${words(toTeam)}`);
  console.log(
    `  the collector took ${((after - before) / THREADS).toFixed(1)} KB more for each page that listens (goal 10), ${(after / 1024).toFixed(0)} MB in all`,
  );
  await pool.end();
}

async function begin(port: number, dice: ReturnType<typeof createDice>): Promise<Thread> {
  const now = Date.now();
  const [browser, view, visit, showing, id] = [dice.uuid(now), dice.uuid(now), dice.uuid(now), dice.uuid(now), dice.uuid(now)];
  const line = (text: string, lineId: string): Record<string, unknown> => ({
    kind: 'line',
    view,
    visit,
    id: lineId,
    thread: id,
    showing,
    campaign: 'camp',
    at: Date.now(),
    by: 'visitor',
    text,
  });
  const open = { kind: 'open', view, visit, at: now, visitAt: now, url: `${ORIGIN}/huts`, title: 'Huts', referrer: '' };
  const { status, text } = await send(port, { body: batchOf(browser, [open, line('Hello', dice.uuid(now))]) });
  if (status !== 200) throw new Error(text);
  return { id, browser, line, hears: () => undefined };
}

function listen(port: number, thread: Thread): Promise<void> {
  return new Promise((resolve, reject) => {
    let text = '';
    const asked = request(
      {
        host: '127.0.0.1',
        port,
        path: `/talk/${KEY}/${thread.id}?browser=${thread.browser}&after=0`,
        // Each from an address of its own: one address has so many and no more.
        headers: { origin: ORIGIN, 'x-forwarded-for': `2001:db8::${Number.parseInt(thread.id.slice(-8), 16).toString(16)}` },
        agent: false,
      },
      (response) => {
        response.setEncoding('utf8');
        response.on('error', () => undefined);
        response.on('data', (part: string) => {
          text += part;
          const events = text.split('\n\n');
          text = events.pop() ?? '';
          for (const event of events) {
            const data = /^data: (.*)$/m.exec(event)?.[1];
            if (!data) continue;
            for (const line of (JSON.parse(data) as Heard).lines) thread.hears(line.text);
            resolve();
          }
        });
      },
    );
    asked.on('error', reject);
    asked.end();
  });
}
