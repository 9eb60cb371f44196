const shared = globalThis as typeof globalThis & { crindleSessionEnds?: Map<string, Set<() => void>> };
const listeners = (shared.crindleSessionEnds ??= new Map<string, Set<() => void>>());

/** Calls back once a session, by the hash of its token, ends in this process. Gives what forgets it. */
export function onSessionEnd(session: Buffer, ended: () => void): () => void {
  const key = session.toString('base64');
  const all = listeners.get(key) ?? new Set();
  listeners.set(key, all.add(ended));
  return () => {
    all.delete(ended);
    if (all.size === 0) listeners.delete(key);
  };
}

/** Whatever is open for these sessions in this process ends at once; in others within a quarter of a minute. */
export function sessionsEnded(sessions: readonly Buffer[]): void {
  for (const session of sessions) for (const ended of [...(listeners.get(session.toString('base64')) ?? [])]) ended();
}
