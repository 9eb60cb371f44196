import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { ThreadInFull, ThreadInList } from '@/server/db/threads';
import { send } from '../parts/net/send';

/** As they come over the wire. */
type Wire<T> = {
  readonly [K in keyof T]: T[K] extends Date
    ? string
    : T[K] extends Date | null
      ? string | null
      : T[K] extends readonly (infer E)[]
        ? readonly Wire<E>[]
        : T[K];
};
export type ListedThread = Wire<ThreadInList>;
export type FullThread = Wire<ThreadInFull>;
export type ShownLine = FullThread['lines'][number];

export interface Listed {
  /** The server's clock, UTC ms. */
  readonly now: number;
  readonly me: number;
  readonly threads: readonly ListedThread[];
  readonly hasMore: boolean;
  readonly colleagues: readonly {
    readonly member: number;
    readonly name: string;
    readonly open: number;
    readonly isHere: boolean;
    /** When that changes, UTC ms. */
    readonly until: number | null;
  }[];
}

async function get<T>(url: string): Promise<T> {
  const result = await send<T>('GET', url);
  if (!result.ok) throw new Error(result.message);
  return result.value;
}

const EVERY_MS = 30_000;

export const useThreads = (query: string) =>
  useQuery({
    queryKey: ['threads', query],
    queryFn: () => get<Listed>(`/api/conversations?${query}`),
    refetchInterval: EVERY_MS,
    placeholderData: (before) => before,
  });

export const useThread = (id: string | undefined) =>
  useQuery({
    queryKey: ['thread', id],
    queryFn: () => get<FullThread>(`/api/conversations/${id}`),
    enabled: id !== undefined,
    refetchInterval: EVERY_MS,
  });

const WRITES_MS = 6_000;

/** Follows what is said for as long as the screen is open; gives the threads that a visitor is writing in. */
export function useFollowing(): ReadonlySet<string> {
  const known = useQueryClient();
  const [writing, setWriting] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    const stream = new EventSource('/api/conversations/live');
    const timers = new Map<string, ReturnType<typeof setTimeout>>();
    const isOver = (thread: string): void => setWriting((before) => new Set([...before].filter((one) => one !== thread)));
    const anew = (thread?: string | null): void => {
      if (thread) isOver(thread);
      void known.invalidateQueries({ queryKey: ['threads'] });
      void known.invalidateQueries({ queryKey: thread ? ['thread', thread] : ['thread'] });
    };
    const threadOf = (event: MessageEvent<string>): string | null => (JSON.parse(event.data) as { thread: string | null }).thread;
    stream.addEventListener('changed', (event: MessageEvent<string>) => anew(threadOf(event)));
    stream.addEventListener('writing', (event: MessageEvent<string>) => {
      const thread = threadOf(event);
      if (!thread) return;
      setWriting((before) => new Set([...before, thread]));
      clearTimeout(timers.get(thread));
      timers.set(
        thread,
        setTimeout(() => isOver(thread), WRITES_MS),
      );
    });
    // Whatever was said while it was lost.
    stream.addEventListener('ready', () => anew());
    return () => {
      stream.close();
      timers.forEach((timer) => clearTimeout(timer));
    };
  }, [known]);
  return writing;
}
