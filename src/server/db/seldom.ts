import { LRUCache } from 'lru-cache';
import type { Queryable } from './queryable';

interface Kept {
  readonly value: unknown;
  /** By the monotonic clock, ms. */
  readonly at: number;
  readonly took: number;
}

/** An answer serves for so many times as long as it took: asking then takes no more than a fortieth of the database. */
const TIMES = 40;
/** What takes less than this is asked each time. */
const QUICK_MS = 100;
/** The same for what somebody waits to see changed: only a large site makes it take so long. */
export const WATCHED_MS = 300;
/** What takes longer than this is told as it was while it is asked anew. */
const SLOW_MS = 500;
/** But not what is older than this. */
const OLD_MS = 3_600_000;
const MOST_KEPT = 500;

const answers = new WeakMap<Queryable, LRUCache<string, Kept>>();
const underWay = new WeakMap<Queryable, Map<string, Promise<unknown>>>();

/**
 * What grows with what is on record is asked the more seldom the longer it takes; on a small site it is asked each time. Several who
 * ask at once are answered by one question. `freshMs`: how old an answer may be however little it took; `quickMs`: what takes less is asked each time.
 */
export async function seldom<T>(
  db: Queryable,
  key: string,
  ask: () => Promise<T>,
  { freshMs = 0, quickMs = QUICK_MS }: { freshMs?: number; quickMs?: number } = {},
): Promise<T> {
  const kept = answers.get(db) ?? new LRUCache<string, Kept>({ max: MOST_KEPT });
  answers.set(db, kept);
  const found = kept.get(key);
  const age = found ? performance.now() - found.at : Infinity;
  if (found && age < Math.max(freshMs, found.took < quickMs ? 0 : found.took * TIMES)) return found.value as T;
  const asking = askOnce(db, key, ask, kept);
  if (!found || found.took < SLOW_MS || age > OLD_MS) return asking;
  asking.catch((cause: unknown) => console.error(`${key}: ${cause instanceof Error ? cause.message : String(cause)}`));
  return found.value as T;
}

function askOnce<T>(db: Queryable, key: string, ask: () => Promise<T>, kept: LRUCache<string, Kept>): Promise<T> {
  const all = underWay.get(db) ?? new Map<string, Promise<unknown>>();
  underWay.set(db, all);
  const before = all.get(key);
  if (before) return before as Promise<T>;
  const began = performance.now();
  const asking = ask()
    .then((value) => {
      kept.set(key, { value, at: performance.now(), took: performance.now() - began });
      return value;
    })
    .finally(() => all.delete(key));
  all.set(key, asking);
  return asking;
}
