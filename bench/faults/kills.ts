import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { isDeepStrictEqual } from 'node:util';
import pg from 'pg';
import type { Dice } from '@/core/random/dice';
import { createDice } from '@/core/random/dice';
import type { Signal } from '@/core/moments/signal';
import type { BatchAnswer } from '@/core/wire/items';
import { packSignals } from '@/core/wire/pack';
import { freePort } from '@/server/testing/freePort';
import { startCollector } from '../ground';
import type { Target } from '../ground';
import { sized } from '../sized';
import type { Wrongs } from './ground';
import { batchOf, inWords, makeSite, openOf, pause, send } from './ground';

const SIGNALS = sized(300_000, 8_000);
const COLLECTOR_KILLS = sized(60, 3);
const DATABASE_KILLS = sized(10, 1);
const SENDERS = 24;
const SIGNALS_A_PIECE = 40;

/** Everything that was acknowledged, and everything that was on its way. */
interface Sent {
  readonly pieces: Map<string, readonly Signal[]>;
  readonly events: Set<string>;
  signals: number;
  batches: number;
  again: number;
  poison: number;
  readonly wrongs: string[];
}

/**
 * Collectors and the database are killed under load, at any instant; what is not acknowledged is sent again, some of what is, too, and poison
 * is among the good. In the end the rows are compared with what was sent, signal by signal.
 */
export async function runKills(): Promise<Wrongs> {
  const { url, pool } = await makeSite();
  const collectors = [await startCollector(url, await freePort()), await startCollector(url, await freePort())];
  const sent: Sent = { pieces: new Map(), events: new Set(), signals: 0, batches: 0, again: 0, poison: 0, wrongs: [] };
  const dice = createDice('kills');
  const state = { isOver: false };
  const load = Promise.all(Array.from({ length: SENDERS }, (_, nth) => browse(collectors, sent, createDice(`sender ${nth}`), state)));
  const kills = await killAround(url, collectors, dice);
  while (sent.signals < SIGNALS) await pause(20);
  state.isOver = true;
  await load;
  for (const { process } of collectors) process.kill('SIGTERM');
  await pool.end();

  const wrongs = [...sent.wrongs, ...(await compare(url, sent))];
  console.log(
    `kills: ${kills.collectors} of collectors, ${kills.database} of PostgreSQL; ${inWords(sent.signals)} signals and ${inWords(sent.events.size)} events ` +
      `acknowledged in ${inWords(sent.batches)} requests, ${inWords(sent.again)} sent again, ${inWords(sent.poison)} poisoned items refused; ` +
      (wrongs.length ? `${wrongs.length} WRONG` : 'nothing missing, doubled or different'),
  );
  return wrongs;
}

/** Kills PostgreSQL and waits until it is back; false where whoever runs this has not said how. */
export async function killDatabase(): Promise<boolean> {
  const kill = process.env['CRINDLE_BENCH_KILL'];
  if (kill) await run(kill);
  return kill !== undefined;
}

async function killAround(url: string, collectors: Target[], dice: Dice): Promise<{ collectors: number; database: number }> {
  const kill = process.env['CRINDLE_BENCH_KILL'];
  const turns = Array.from({ length: COLLECTOR_KILLS + (kill ? DATABASE_KILLS : 0) }, (_, nth) =>
    nth < COLLECTOR_KILLS ? 'collector' : 'database',
  );
  turns.sort(() => dice.next() - 0.5);
  for (const turn of turns) {
    await pause(dice.between(50, 600));
    if (turn === 'database') await killDatabase();
    else {
      const nth = dice.whole(0, collectors.length - 1);
      const { port, process } = collectors[nth] as Target;
      process.kill('SIGKILL');
      collectors[nth] = await startCollector(url, port);
    }
  }
  return { collectors: COLLECTOR_KILLS, database: kill ? DATABASE_KILLS : 0 };
}

/** What is started by it keeps its output, so that it must not be waited for. */
async function run(command: string): Promise<void> {
  const [code] = (await once(spawn('bash', ['-c', command], { stdio: 'ignore' }), 'exit')) as [number];
  if (code !== 0) throw new Error('PostgreSQL did not come back');
}

/** One visitor after the other, page after page, until it is over; every batch until it is acknowledged. */
async function browse(collectors: readonly Target[], sent: Sent, dice: Dice, state: { readonly isOver: boolean }): Promise<void> {
  while (!state.isOver) {
    const now = Date.now();
    const [browser, visit] = [dice.uuid(now), dice.uuid(now)];
    for (let page = 0; page < 3 && !state.isOver; page++) {
      const at = Date.now();
      const view = dice.uuid(at);
      await deliver(collectors, browser, [openOf(view, visit, at)], sent, dice);
      for (let piece = 0; piece < 8 && !state.isOver; piece++) {
        const signals = signalsOf(piece, dice);
        const event = dice.uuid(Date.now());
        const good = [
          { kind: 'piece', view, piece, signals: packSignals(signals), engaged: piece * 1000, scroll: 40, leave: (piece + 1) * 10_000 },
          { kind: 'event', id: event, view, visit, at: Date.now(), name: 'tick', props: { piece } },
        ];
        await deliver(collectors, browser, dice.chance(0.2) ? withPoison(good, dice) : good, sent, dice);
        sent.pieces.set(`${view} ${piece}`, signals);
        sent.events.add(event);
        sent.signals += signals.length;
      }
    }
  }
}

function signalsOf(piece: number, dice: Dice): Signal[] {
  return Array.from({ length: SIGNALS_A_PIECE }, (_, nth): Signal => {
    const t = piece * 10_000 + nth * 200;
    if (nth % 5 === 4) return { t, s: 'click', on: ['#next'], what: 'a#next' } as Signal;
    return nth % 2 ? { t, s: 'input' } : { t, s: 'scroll', depth: dice.whole(0, 100) };
  });
}

/** What is refused for good, wherever it stands. */
const POISON: readonly unknown[] = [
  null,
  { kind: { kind: 'piece' } },
  { kind: 'event', id: '019a0000-0000-7000-8000-000000000000', view: 'none', visit: 'none', at: 0, name: 'x' },
  { kind: 'piece', view: '019a0000-0000-7000-8000-00000000dead', piece: 0, signals: [[0, 1]], engaged: 0, scroll: 0, leave: 1 },
  { kind: 'fault', id: '019a0000-0000-7000-8000-000000000000', at: 1e300, entry: 'x', message: 'x' },
  { kind: 'mark', id: '019a0000-0000-7000-8000-000000000000', at: 0, tag: 'x'.repeat(5000) },
];
const isPoison = (item: unknown): boolean => POISON.includes(item);

function withPoison(good: readonly unknown[], dice: Dice): unknown[] {
  const items = [...good];
  items.splice(dice.whole(0, items.length), 0, dice.pick(POISON));
  return items;
}

async function deliver(collectors: readonly Target[], browser: string, items: readonly unknown[], sent: Sent, dice: Dice): Promise<void> {
  const body = batchOf(browser, items);
  for (let tries = 0; ; tries++) {
    const { port } = collectors[dice.whole(0, collectors.length - 1)] as Target;
    const { status, text } = await send(port, { body });
    if (status === 200) {
      const answer = (JSON.parse(text) as BatchAnswer).items;
      items.forEach((item, nth) => {
        if (answer[nth]?.ok === isPoison(item))
          sent.wrongs.push(
            `${isPoison(item) ? 'Taken' : 'Refused'}: ${JSON.stringify(item).slice(0, 120)}: ${JSON.stringify(answer[nth])}`,
          );
      });
      sent.batches++;
      sent.again += tries;
      sent.poison += items.filter(isPoison).length;
      if (dice.chance(0.1)) await send(port, { body }); // The answer got lost: it comes once more.
      return;
    }
    if (status !== 0 && status !== 503) sent.wrongs.push(`Answered ${status}: ${text.slice(0, 200)}`);
    await pause(30);
  }
}

async function compare(url: string, sent: Sent): Promise<string[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows: pieces } = await client.query<{ piece: string; signals: Signal[] }>(
    `select view_id || ' ' || piece as piece, signals from signal_piece`,
  );
  const { rows: events } = await client.query<{ id: string }>(`select id from event`);
  await client.end();
  const wrongs: string[] = [];
  const found = new Set(pieces.map(({ piece }) => piece));
  const missing = [...sent.pieces.keys()].filter((piece) => !found.has(piece)).length;
  const strange = pieces.filter(({ piece }) => !sent.pieces.has(piece)).length;
  const different = pieces.filter(
    ({ piece, signals }) => sent.pieces.has(piece) && !isDeepStrictEqual(signals, sent.pieces.get(piece)),
  ).length;
  const known = new Set(events.map(({ id }) => id));
  const lost = [...sent.events].filter((id) => !known.has(id)).length;
  if (missing) wrongs.push(`${missing} acknowledged pieces are missing`);
  if (different) wrongs.push(`${different} pieces are other than they were sent`);
  if (found.size !== pieces.length || known.size !== events.length) wrongs.push('Something is stored twice');
  if (lost) wrongs.push(`${lost} acknowledged events are missing`);
  if (strange || events.length !== sent.events.size) wrongs.push(`${strange + events.length - sent.events.size} rows were never sent`);
  return wrongs;
}
