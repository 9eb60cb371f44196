import { createDice } from '@/core/random/dice';
import type { Dice } from '@/core/random/dice';
import type { Heard } from '@/core/conversations/line';
import type { BatchAnswer } from '@/core/wire/items';
import { withTransaction } from '@/server/db/pool';
import { many } from '@/server/db/queryable';
import { addLine } from '@/server/db/threads';
import { freePort } from '@/server/testing/freePort';
import type pg from 'pg';
import { startCollector } from '../ground';
import type { Target } from '../ground';
import { sized } from '../sized';
import type { Wrongs } from './ground';
import { batchOf, inWords, KEY, makeSite, ORIGIN, pause, send } from './ground';
import { killDatabase } from './kills';

const THREADS = sized(1_000, 40);
const LINES_A_SIDE = 10;
const COLLECTOR_KILLS = sized(20, 2);
const DATABASE_KILLS = sized(5, 1);
const SENDERS = sized(40, 10);
/** Of so many threads a page listens all the while. */
const LISTENING = sized(200, 10);

interface Thread {
  readonly id: string;
  readonly browser: string;
  /** What each side wrote, in its order: ids. */
  readonly visitor: string[];
  readonly team: string[];
}

/** Visitors and the team write to each other while collectors and PostgreSQL are killed: no line is lost, doubled or out of order, here or at the listening page. */
export async function runTalks(): Promise<Wrongs> {
  const { url, pool, siteId } = await makeSite();
  await pool.query(
    `insert into campaign (site_id, id, name, status, position, goal, rule, flow) values ($1, 'camp', 'Chat', 'live', 1, '{"kind":"reply"}', '{}', '{"start":"a","messages":[]}')`,
    [siteId],
  );
  const collectors = [await startCollector(url, await freePort()), await startCollector(url, await freePort())];
  const threads: Thread[] = [];
  const heard = new Map<string, string[]>();
  const over = new AbortController();
  const dice = createDice('talks');
  const work = writeAll({
    collectors,
    pool,
    siteId,
    threads,
    onBegun: (thread) => listenTo(thread, { collectors, heard, over: over.signal, dice }),
  });
  const kills = await killAround(url, collectors, dice);
  await work;
  const wrongs = await compare(pool, threads);
  // Whoever listens gets the rest within this.
  const until = Date.now() + 30_000;
  const listened = threads.slice(0, LISTENING);
  const missing = (): number => listened.filter(({ id, visitor, team }) => heard.get(id)?.length !== visitor.length + team.length).length;
  while (missing() > 0 && Date.now() < until) await pause(100);
  if (missing() > 0) wrongs.push(`${missing()} listening pages have not heard every line once`);
  for (const { id, visitor, team } of listened)
    if (heard.get(id)?.length !== visitor.length + team.length)
      wrongs.push(`the page of ${id} has heard ${heard.get(id)?.length} of ${visitor.length + team.length}: ${states.get(id)}`);
  const doubled = [...heard.values()].filter((ids) => new Set(ids).size !== ids.length).length;
  if (doubled > 0) wrongs.push(`${doubled} listening pages heard a line twice`);
  over.abort();
  for (const { process: child } of collectors) child.kill('SIGKILL');
  await pool.end();
  const lines = threads.reduce((sum, { visitor, team }) => sum + visitor.length + team.length, 0);
  console.log(
    `talks: ${inWords(threads.length)} threads, ${inWords(lines)} lines, ${inWords(listened.length)} pages listening; ${kills.collectors} kills of collectors and ${kills.database} of PostgreSQL; ` +
      (wrongs.length ? `${wrongs.length} WRONG` : 'no line lost, doubled or out of order, there or at the pages'),
  );
  return wrongs;
}

async function killAround(url: string, collectors: Target[], dice: Dice): Promise<{ collectors: number; database: number }> {
  const kills = { collectors: 0, database: 0 };
  for (let nth = 1; nth <= COLLECTOR_KILLS + DATABASE_KILLS; nth++) {
    await pause(dice.between(200, sized(1_200, 500)));
    if (nth % Math.ceil((COLLECTOR_KILLS + DATABASE_KILLS) / DATABASE_KILLS) === 0 && (await killDatabase())) {
      kills.database++;
      continue;
    }
    const which = dice.whole(0, collectors.length - 1);
    const { port, process: child } = collectors[which] as Target;
    child.kill('SIGKILL');
    collectors[which] = await startCollector(url, port);
    kills.collectors++;
  }
  return kills;
}

async function writeAll({
  collectors,
  pool,
  siteId,
  threads,
  onBegun,
}: {
  collectors: readonly Target[];
  pool: pg.Pool;
  siteId: number;
  threads: Thread[];
  onBegun: (thread: Thread) => void;
}): Promise<void> {
  let next = 0;
  await Promise.all(
    Array.from({ length: SENDERS }, async (_, sender) => {
      const dice = createDice(`talks ${sender}`);
      while (next++ < THREADS) {
        const now = Date.now();
        const [browser, view, visit, showing] = [dice.uuid(now), dice.uuid(now), dice.uuid(now), dice.uuid(now)];
        const thread: Thread = { id: dice.uuid(now), browser, visitor: [], team: [] };
        const place = threads.push(thread);
        const open = { kind: 'open', view, visit, at: now, visitAt: now, url: `${ORIGIN}/huts`, title: 'Huts', referrer: '' };
        await deliver(collectors, browser, [open], dice);
        if (place <= LISTENING) onBegun(thread);
        const fromVisitor = async (): Promise<void> => {
          for (let nth = 0; nth < LINES_A_SIDE; nth++) {
            const id = dice.uuid(Date.now());
            const line = {
              kind: 'line',
              view,
              visit,
              id,
              thread: thread.id,
              showing,
              campaign: 'camp',
              at: Date.now(),
              by: 'visitor',
              text: `visitor ${nth}`,
            };
            thread.visitor.push(id);
            await deliver(collectors, browser, [line], dice);
          }
        };
        const fromTeam = async (): Promise<void> => {
          for (let nth = 0; nth < LINES_A_SIDE; nth++) {
            const id = dice.uuid(Date.now());
            thread.team.push(id);
            await answer(pool, siteId, { thread: thread.id, id, text: `team ${nth}` }, dice);
          }
        };
        await Promise.all([fromVisitor(), fromTeam()]);
      }
    }),
  );
}

/** Until it is acknowledged; one in ten once more, as where the answer got lost. */
async function deliver(collectors: readonly Target[], browser: string, items: readonly unknown[], dice: Dice): Promise<void> {
  for (;;) {
    const { port } = collectors[dice.whole(0, collectors.length - 1)] as Target;
    const { status, text } = await send(port, { body: batchOf(browser, items) });
    if (status === 200) {
      const refused = (JSON.parse(text) as BatchAnswer).items.find(({ ok }) => !ok);
      if (refused) throw new Error(JSON.stringify(refused));
      if (!dice.chance(0.1)) return;
      continue;
    }
    await pause(40);
  }
}

/** As the studio does it: the same line again until it is committed, or was. */
async function answer(
  pool: pg.Pool,
  siteId: number,
  { thread, id, text }: { thread: string; id: string; text: string },
  dice: Dice,
): Promise<void> {
  for (;;) {
    try {
      const isWritten = await withTransaction(pool, async (tx) => {
        const seq = await addLine(tx, siteId, thread, { id, by: 'team', text }, 'answers');
        return (
          seq !== undefined ||
          (await many(tx, `select from line where site_id = $1 and thread_id = $2 and id = $3`, [siteId, thread, id])).length > 0
        );
      });
      if (isWritten && !dice.chance(0.1)) return;
    } catch {
      // Killed in the middle: it is written again.
    }
    await pause(20);
  }
}

/** How each page's last listening went. */
const states = new Map<string, string>();

/** A page that listens, and comes again wherever it was let go. */
function listenTo(
  { id, browser }: Thread,
  { collectors, heard, over, dice }: { collectors: readonly Target[]; heard: Map<string, string[]>; over: AbortSignal; dice: Dice },
): void {
  const ids: string[] = [];
  heard.set(id, ids);
  let after = 0;
  void (async () => {
    while (!over.aborted) {
      const { port } = collectors[dice.whole(0, collectors.length - 1)] as Target;
      try {
        const response = await fetch(`http://127.0.0.1:${port}/talk/${KEY}/${id}?browser=${browser}&after=${after}`, {
          headers: { origin: ORIGIN },
          signal: over,
        });
        states.set(id, `listens since ${new Date().toISOString()}, answered ${response.status}, after ${after}, at ${port}`);
        let text = '';
        for await (const piece of response.body ?? []) {
          text += Buffer.from(piece as Uint8Array).toString();
          const events = text.split('\n\n');
          text = events.pop() ?? '';
          for (const event of events) {
            const data = /^data: (.*)$/m.exec(event)?.[1];
            if (!data) continue;
            for (const line of (JSON.parse(data) as Heard).lines) {
              if (line.seq <= after) continue;
              after = line.seq;
              ids.push(line.id);
            }
          }
        }
      } catch (cause) {
        // Killed: it comes again.
        states.set(id, String(cause));
      }
      await pause(100).catch(() => undefined);
    }
  })();
}

async function compare(pool: pg.Pool, threads: readonly Thread[]): Promise<string[]> {
  const rows = await many<{ thread: string; ids: string[]; seqs: number[] }>(
    pool,
    `select thread_id::text as thread, array_agg(id::text order by seq) as ids, array_agg(seq order by seq) as seqs from line where by in ('visitor', 'team') group by 1`,
  );
  const events = new Map(
    (await many<{ thread: string; last: number }>(pool, `select id::text as thread, last_seq as last from thread`)).map(
      ({ thread, last }) => [thread, last],
    ),
  );
  const found = new Map(rows.map((row) => [row.thread, row]));
  const wrongs: string[] = [];
  let [lost, strange, disordered, gaps] = [0, 0, 0, 0];
  for (const { id, visitor, team } of threads) {
    const ids = found.get(id)?.ids ?? [];
    const all = new Set([...visitor, ...team]);
    lost += [...all].filter((one) => !ids.includes(one)).length;
    strange += ids.filter((one) => !all.has(one)).length;
    for (const side of [visitor, team]) if (side.join() !== ids.filter((one) => side.includes(one)).join()) disordered++;
    if (events.get(id) !== ids.length) gaps++;
  }
  if (lost > 0) wrongs.push(`${lost} acknowledged lines are missing`);
  if (strange > 0) wrongs.push(`${strange} lines are there that nobody wrote, or twice`);
  if (disordered > 0) wrongs.push(`${disordered} sides are out of order`);
  if (gaps > 0) wrongs.push(`${gaps} threads have numbers with gaps`);
  return wrongs;
}
