// The entry of the thread that counts and rehearses: apart, so that the studio answers while it thinks.
import { parentPort } from 'node:worker_threads';
import { createPool } from '../db/pool';
import { SiteMemory } from './site';
import type { FromThread, ToThread } from './task';
import { work } from './work';

const port = parentPort;
if (!port) throw new Error('This is a thread of the studio, not a program');
const pool = createPool(3);
const memories = new Map<number, SiteMemory>();
const cancelled = new Set<number>();
const EVERY_MS = 150;
const say = (message: FromThread): void => port.postMessage(message);

function memoryOf(site: number): SiteMemory {
  const memory = memories.get(site) ?? new SiteMemory(pool, site);
  memories.set(site, memory);
  return memory;
}

async function carryOut({ id, task }: Extract<ToThread, { task: unknown }>): Promise<void> {
  let last: unknown;
  let saidAt = -Infinity;
  for await (const part of work(memoryOf(task.site), task)) {
    last = part ?? last;
    // The first is wanted at once, the others not more often than anyone can look.
    if (part !== undefined && performance.now() - saidAt > EVERY_MS) {
      saidAt = performance.now();
      say({ id, part, isLast: false });
    }
    // Lets the news in that nobody wants it any more.
    await new Promise((resolve) => setImmediate(resolve));
    if (cancelled.delete(id)) return;
  }
  say({ id, part: last, isLast: true });
}

port.on('message', (message: ToThread) => {
  if ('cancel' in message) return void cancelled.add(message.id);
  carryOut(message).catch((cause: unknown) => {
    console.error(cause);
    say({ id: message.id, failed: cause instanceof Error ? cause.message : String(cause) });
  });
});
