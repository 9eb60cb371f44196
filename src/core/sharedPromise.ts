/** Of a `Map` or a cache what is needed to keep promises in it. */
interface Keeps<K, V> {
  readonly get: (key: K) => V | undefined;
  readonly set: (key: K, value: V) => unknown;
  readonly delete: (key: K) => unknown;
}

/** What is kept under the key, or is begun now and kept: whoever asks meanwhile waits for the same. What fails is asked anew the next time. */
export function sharedPromise<K, T>(kept: Keeps<K, Promise<T>>, key: K, ask: () => Promise<T>): Promise<T> {
  const found = kept.get(key);
  if (found) return found;
  const asked = ask();
  kept.set(key, asked);
  asked.catch(() => {
    // Something begun since is not taken away.
    if (kept.get(key) === asked) kept.delete(key);
  });
  return asked;
}
