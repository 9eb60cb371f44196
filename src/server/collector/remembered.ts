/** Remembers what `load` found for a key for some ms, so that a burst of requests asks once. Failures are not remembered. */
export function remembered<T>({
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
  const entries = new Map<string, { at: number; value: Promise<T> }>();
  return (key) => {
    const entry = entries.get(key);
    if (entry && now() - entry.at < ms) return entry.value;
    if (entries.size >= most) entries.clear();
    const value = load(key);
    entries.set(key, { at: now(), value });
    value.catch(() => entries.delete(key));
    return value;
  };
}
