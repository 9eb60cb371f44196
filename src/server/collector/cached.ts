import { LRUCache } from 'lru-cache';

export interface Cached<T> {
  (key: string): Promise<T>;
  /** Whoever asks from now on is told anew. */
  readonly forget: (key?: string) => void;
}

/** Keeps what `load` found for a key for some ms, so that a burst of requests asks once. Failures are not kept. `now` gives ms. */
export function cached<T>({
  ms,
  load,
  now = Date.now,
  most = 10_000,
}: {
  ms: () => number;
  load: (key: string) => Promise<T>;
  now?: () => number;
  most?: number;
}): Cached<T> {
  const kept = new LRUCache<string, { readonly value: Promise<T>; readonly since: number }>({ max: most });
  const ask = (key: string): Promise<T> => {
    const known = kept.get(key);
    if (known && now() - known.since < ms()) return known.value;
    const asked = { value: load(key), since: now() };
    kept.set(key, asked);
    asked.value.catch(() => kept.peek(key) === asked && kept.delete(key));
    return asked.value;
  };
  return Object.assign(ask, { forget: (key?: string) => (key === undefined ? kept.clear() : void kept.delete(key)) });
}
