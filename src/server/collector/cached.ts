import { LRUCache } from 'lru-cache';

/** Keeps what `load` found for a key for some ms, so that a burst of requests asks once. Failures are not kept. `now` gives ms. */
export function cached<T>({
  ms,
  load,
  now = Date.now,
  most = 10_000,
}: {
  ms: number;
  load: (key: string) => Promise<T>;
  now?: () => number;
  most?: number;
}): (key: string) => Promise<T> {
  const cache = new LRUCache<string, { value: T }>({
    max: most,
    ttl: ms,
    ttlResolution: 0,
    perf: { now },
    fetchMethod: async (key) => ({ value: await load(key) }),
  });
  return async (key) => ((await cache.fetch(key)) as { value: T }).value;
}
