import type pg from 'pg';
import type { Item, ItemAnswer } from '@/core/wire/items';
import type { Directory, Server } from '../db/directory';
import { withTransaction } from '../db/pool';
import { isTransient, isUnavailable, isUnstorable, violates } from '../db/queryable';
import type { ServedRelease } from '../db/releases';
import { recordGoals } from './goals';
import type { Metrics } from './metrics';
import type { Queryable } from '../db/queryable';
import type { Queued } from './queue';
import { FairQueue } from './queue';
import type { Sender, SingleItem } from './record';
import { ItemRefused, recordItem } from './record';
import type { Recorded } from './batch';
import { mostNewVisitors, recordBatch } from './batch';
import { Dealing, VisitorNumbers } from './visitorNumbers';

/** How long a group gathers, in ms: commits are shared by whoever comes in the meantime. */
const GATHER_MS = 3;
const MOST_TOGETHER = 1000;
/** More than this waiting, in items, and the collector asks for patience: a database that is slow must not fill the memory. */
const MOST_WAITING = 20_000;
/** Of one sender. */
const MOST_WAITING_OF_ONE = 10_000;
/** While one group waits for its commit another is written. */
const WRITERS = 2;

export class Busy extends Error {
  readonly code = 'collector.busy';
}

export interface Entry {
  readonly item: Item;
  readonly sender: Sender;
  readonly current: ServedRelease | undefined;
}
export interface Written {
  readonly answer: ItemAnswer;
  readonly visitorId?: number | undefined;
}

interface Waiting extends Queued {
  readonly entries: readonly Entry[];
  readonly resolve: (written: Written[]) => void;
  readonly reject: (cause: unknown) => void;
}

export interface Writer {
  /** Resolves once everything is committed: what is acknowledged is on disk. Throws `Busy` where too much of `from`, or of all, waits already. */
  readonly write: (from: string, entries: readonly Entry[]) => Promise<Written[]>;
  /** Waits until nothing is waiting any more. */
  readonly drain: () => Promise<void>;
}

/** Writes what many requests bring together in few transactions, some at a time; senders have their turns. */
export function createWriter(directory: Directory, metrics: Metrics): Writer {
  const queue = new FairQueue<Waiting>({ most: MOST_WAITING, mostOfOne: MOST_WAITING_OF_ONE });
  const running = new Set<Promise<void>>();
  const stores = new Map<pg.Pool, Store>();
  const storeOf = ({ pool }: Server): Store => {
    const store = stores.get(pool) ?? { pool, numbers: new VisitorNumbers(pool) };
    stores.set(pool, store);
    return store;
  };

  async function run(): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, GATHER_MS));
    for (let group = queue.take(MOST_TOGETHER); group.length > 0; group = queue.take(MOST_TOGETHER)) {
      metrics.waiting.set(queue.items);
      const stop = metrics.writeSeconds.startTimer();
      await writeByServer(directory, group, storeOf).finally(stop);
      metrics.groups.observe(group.reduce((sum, { entries }) => sum + entries.length, 0));
    }
  }

  function start(): void {
    if (running.size >= WRITERS) return;
    const one = run().finally(() => running.delete(one));
    running.add(one);
  }

  return {
    write: (from, entries) => {
      if (entries.length === 0) return Promise.resolve([]);
      return new Promise((resolve, reject) => {
        if (!queue.put({ from, entries, resolve, reject })) return reject(new Busy());
        metrics.waiting.set(queue.items);
        start();
      });
    },
    drain: async () => {
      while (running.size) await Promise.all(running);
    },
  };
}

/** Where each site is at this moment; whoever's site is being moved is told so. */
async function writeByServer(directory: Directory, group: readonly Waiting[], storeOf: (server: Server) => Store): Promise<void> {
  const groups = new Map<Store, Waiting[]>();
  for (const waiting of group) {
    const [first] = waiting.entries;
    try {
      const store = storeOf(await directory.findToWrite(first?.sender.site.id ?? 0));
      const own = groups.get(store) ?? [];
      own.push(waiting);
      groups.set(store, own);
    } catch (cause) {
      waiting.reject(cause);
    }
  }
  await Promise.all([...groups].map(([store, own]) => writeGroup(store, own)));
}

interface Store {
  readonly pool: pg.Pool;
  readonly numbers: VisitorNumbers;
}

/** All in one transaction, if that goes; what is wrong with one of them is the answer of that one alone. */
async function writeGroup(store: Store, group: readonly Waiting[]): Promise<void> {
  try {
    const written = await writeInHalves(
      store,
      group.flatMap(({ entries }) => entries),
    );
    let at = 0;
    for (const { entries, resolve, reject } of group) {
      const own = written.slice(at, (at += entries.length));
      const failed = own.find((one): one is Failed => 'failed' in one);
      if (failed) reject(failed.failed);
      else resolve(own as Written[]);
    }
  } catch (cause) {
    // What was written on the way is sent again, and changes nothing then.
    for (const { reject } of group) reject(cause);
  }
}

/** Nothing that the item itself is to blame for: a fault of ours. */
interface Failed {
  readonly failed: unknown;
}

const MOST_TRIES = 3;

/** Where the database refuses something, each half for itself, so that the bad ones are found in few steps. Throws where it is away. */
async function writeInHalves(store: Store, entries: readonly Entry[]): Promise<(Written | Failed)[]> {
  for (let tries = 1; ; tries++) {
    try {
      return await writeEntries(store, entries);
    } catch (cause) {
      if (isUnavailable(cause)) throw cause;
      // Two first pages of one browser at once: the other one made the visitor. Or two groups crossed.
      if ((violates(cause, 'visitor_browser_unique') || isTransient(cause)) && tries < MOST_TRIES) continue;
      if (entries.length > 1) {
        const half = entries.length >> 1;
        return [...(await writeInHalves(store, entries.slice(0, half))), ...(await writeInHalves(store, entries.slice(half)))];
      }
      if (!isUnstorable(cause)) return [{ failed: cause }];
      console.error(cause);
      return [{ answer: { ok: false, code: 'item.unstorable', message: 'The database does not take this item as it is' } }];
    }
  }
}

async function writeEntries({ pool, numbers }: Store, entries: readonly Entry[]): Promise<Written[]> {
  const dealing = await Dealing.begin(numbers, mostNewVisitors(entries));
  // Pieces are written by one statement, which is a transaction by itself.
  if (entries.every(({ item }) => item.kind === 'piece')) return record(pool, entries, dealing);
  try {
    const written = await withTransaction(pool, (tx) => record(tx, entries, dealing));
    dealing.end({ failed: false });
    return written;
  } catch (cause) {
    // A commit whose answer was lost may have gone through: those numbers are taken.
    dealing.end({ failed: !isUnavailable(cause) });
    throw cause;
  }
}

/** Page opens first, then their signals, then the rest in its order: what comes of a view needs the view. */
async function record(tx: Queryable, entries: readonly Entry[], dealing: Dealing): Promise<Written[]> {
  const together = await recordBatch(tx, entries, dealing);
  const written: Written[] = [];
  const touched = new Map<string, readonly [site: number, visitor: number]>();
  for (const entry of entries) {
    const recorded = together.get(entry) ?? (await recordOne(tx, entry.item as SingleItem, entry.sender));
    if ('refused' in recorded) {
      written.push({ answer: { ok: false, code: recorded.refused.code, message: recorded.refused.message } });
      continue;
    }
    const { visitorId } = recorded;
    const { item, sender, current } = entry;
    if (visitorId !== undefined && (item.kind === 'event' || !together.has(entry)))
      touched.set(`${sender.site.id} ${visitorId}`, [sender.site.id, visitorId]);
    if (item.kind === 'open' || item.kind === 'event')
      await recordGoals(tx, { siteId: sender.site.id, visitorId, item, at: sender.instant(item.at), release: current?.published });
    written.push({ answer: { ok: true }, visitorId });
  }
  if (touched.size) await touchVisitors(tx, [...touched.values()]);
  return written;
}

/** Says that something came on record of them; page opens say so themselves. */
async function touchVisitors(tx: Queryable, visitors: readonly (readonly [site: number, visitor: number])[]): Promise<void> {
  await tx.query(
    `update visitor set touched_at = now() from unnest($1::int[], $2::int[]) as m(site, visitor) where site_id = m.site and visitor.id = m.visitor`,
    [visitors.map(([site]) => site), visitors.map(([, visitor]) => visitor)],
  );
}

async function recordOne(tx: Queryable, item: SingleItem, sender: Sender): Promise<Recorded> {
  try {
    return { visitorId: await recordItem(tx, item, sender) };
  } catch (cause) {
    if (cause instanceof ItemRefused) return { refused: cause };
    throw cause;
  }
}
