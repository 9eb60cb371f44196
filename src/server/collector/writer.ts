import type pg from 'pg';
import type { Item, ItemAnswer } from '@/core/wire/items';
import { withTransaction } from '../db/pool';
import { isTransient, isUnavailable, violates } from '../db/queryable';
import type { CurrentRelease } from '../db/releases';
import { recordGoals } from './goals';
import type { Metrics } from './metrics';
import type { Queryable } from '../db/queryable';
import type { Sender, SingleItem } from './record';
import { ItemRefused, recordItem } from './record';
import type { Recorded } from './batch';
import { recordBatch } from './batch';

/** How long a group gathers, in ms: commits are shared by whoever comes in the meantime. */
const GATHER_MS = 3;
const MOST_TOGETHER = 1000;
/** More than this waiting, in items, and the collector asks for patience: a database that is slow must not fill the memory. */
const MOST_WAITING = 20_000;

export class Busy extends Error {
  readonly code = 'collector.busy';
}

export interface Entry {
  readonly item: Item;
  readonly sender: Sender;
  readonly current: CurrentRelease | undefined;
}
export interface Written {
  readonly answer: ItemAnswer;
  readonly visitorId?: number | undefined;
}

interface Waiting {
  readonly entries: readonly Entry[];
  readonly resolve: (written: Written[]) => void;
  readonly reject: (cause: unknown) => void;
}

export interface Writer {
  /** Resolves once everything is committed: what is acknowledged is on disk. Throws `Busy` where too much waits already. */
  readonly write: (entries: readonly Entry[]) => Promise<Written[]>;
  /** Waits until nothing is waiting any more. */
  readonly drain: () => Promise<void>;
}

/** Writes what many requests bring together in few transactions. */
export function createWriter(pool: pg.Pool, metrics: Metrics): Writer {
  let waiting: Waiting[] = [];
  let waitingItems = 0;
  let running: Promise<void> | undefined;

  async function run(): Promise<void> {
    await new Promise((resolve) => setTimeout(resolve, GATHER_MS));
    while (waiting.length) {
      const group = takeGroup();
      const stop = metrics.writeSeconds.startTimer();
      try {
        await writeGroup(pool, group);
      } finally {
        stop();
      }
      metrics.groups.observe(group.reduce((sum, { entries }) => sum + entries.length, 0));
    }
    running = undefined;
  }

  function takeGroup(): Waiting[] {
    let items = 0;
    const end = waiting.findIndex(({ entries }, index) => (items += entries.length) > MOST_TOGETHER && index > 0);
    const group = end < 0 ? waiting : waiting.slice(0, end);
    waiting = end < 0 ? [] : waiting.slice(end);
    waitingItems -= group.reduce((sum, { entries }) => sum + entries.length, 0);
    metrics.waiting.set(waitingItems);
    return group;
  }

  return {
    write: (entries) => {
      if (entries.length === 0) return Promise.resolve([]);
      if (waitingItems + entries.length > MOST_WAITING) return Promise.reject(new Busy());
      waitingItems += entries.length;
      metrics.waiting.set(waitingItems);
      return new Promise((resolve, reject) => {
        waiting.push({ entries, resolve, reject });
        running ??= run();
      });
    },
    drain: async () => {
      while (running) await running;
    },
  };
}

/** All in one transaction; if that fails for one of them, each request for itself, so that a bad one takes nobody with it. */
async function writeGroup(pool: pg.Pool, group: readonly Waiting[]): Promise<void> {
  try {
    const written = await writeEntries(
      pool,
      group.flatMap(({ entries }) => entries),
    );
    let at = 0;
    for (const { entries, resolve } of group) resolve(written.slice(at, (at += entries.length)));
  } catch (cause) {
    if (isUnavailable(cause)) return group.forEach(({ reject }) => reject(cause));
    for (const { entries, resolve, reject } of group) await writeAlone(pool, entries).then(resolve, reject);
  }
}

/** One item after the other, each in a transaction of its own. */
async function writeAlone(pool: pg.Pool, entries: readonly Entry[]): Promise<Written[]> {
  const written: Written[] = [];
  for (const entry of entries) {
    const attempt = () => writeEntries(pool, [entry]);
    const [one] = await attempt().catch((cause: unknown) => {
      // Two first pages of one browser at once: the other one made the visitor. Or two groups crossed.
      if (violates(cause, 'visitor_browser_unique') || isTransient(cause)) return attempt();
      throw cause;
    });
    if (one) written.push(one);
  }
  return written;
}

async function writeEntries(pool: pg.Pool, entries: readonly Entry[]): Promise<Written[]> {
  // Pieces are written by one statement, which is a transaction by itself.
  if (entries.every(({ item }) => item.kind === 'piece')) return record(pool, entries);
  return withTransaction(pool, (tx) => record(tx, entries));
}

/** Page opens first, then their signals, then the rest in its order: what comes of a view needs the view. */
async function record(tx: Queryable, entries: readonly Entry[]): Promise<Written[]> {
  const together = await recordBatch(tx, entries);
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
    if (visitorId !== undefined && !together.has(entry)) touched.set(`${sender.site.id} ${visitorId}`, [sender.site.id, visitorId]);
    await recordGoals(tx, { siteId: sender.site.id, visitorId, item, skew: sender.skew, release: current?.document });
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
