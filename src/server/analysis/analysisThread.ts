// The entry of a thread that counts and rehearses: apart, so that the process answers while it thinks.
import { parentPort, workerData } from 'node:worker_threads';
import { Directory } from '../db/directory';
import { createPool, createReadSide, nodePool } from '../db/pool';
import { ReadSide } from '../db/readSide';
import { Memories } from './memories';
import type { FromThread, ToThread } from './task';
import { Turns } from './turns';
import { work } from './work';

const port = parentPort;
if (!port) throw new Error('This is a thread of the analysis, not a program');
const pool = createPool(3);
const directory = new Directory(pool, (url) => nodePool(url, { max: 3 }));
const home = createReadSide(pool, 3);
const { megabytes } = workerData as { megabytes: number };
const memories = new Memories(readingOf, megabytes * 1_000_000);
const turns = new Turns();

async function readingOf(site: number): Promise<ReadSide> {
  const server = await directory.find(site);
  return server.name === undefined ? home : new ReadSide(server.pool);
}

/** Tasks that are being carried out, and whether somebody waits for them still. */
const wanted = new Map<number, boolean>();
const EVERY_MS = 150;
const ALIVE_MS = 1_000;
const say = (message: FromThread): void => port.postMessage(message);

async function carryOut({ id, task }: Extract<ToThread, { task: unknown }>): Promise<void> {
  let last: unknown;
  let saidAt = -Infinity;
  for await (const part of work(await memories.of(task.site), task)) {
    last = part ?? last;
    // The first is wanted at once, the others not more often than anyone can look.
    if (part !== undefined && performance.now() - saidAt > EVERY_MS) {
      saidAt = performance.now();
      say({ id, part, isLast: false });
    }
    // Lets the news in that nobody wants it any more, and whatever is wanted sooner.
    await new Promise((resolve) => setImmediate(resolve));
    await turns.next(task);
    if (!wanted.get(id)) return;
  }
  say({ id, part: last, isLast: true });
}

async function take(message: Extract<ToThread, { task: unknown }>): Promise<void> {
  const { id, task } = message;
  const end = turns.begin(task);
  wanted.set(id, true);
  try {
    await carryOut(message);
  } catch (cause) {
    console.error(cause);
    say({ id, failed: cause instanceof Error ? cause.message : String(cause) });
  } finally {
    wanted.delete(id);
    end();
    memories.trim();
  }
}

say({ isAlive: true });
setInterval(() => say({ isAlive: true }), ALIVE_MS);

port.on('message', (message: ToThread) => {
  if (!('cancel' in message)) void take(message);
  else if (wanted.has(message.id)) wanted.set(message.id, false);
});
