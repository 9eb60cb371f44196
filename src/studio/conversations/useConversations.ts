import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { AnswerTo } from '../parts/net/call';
import { addressOf, fetched } from '../parts/net/call';

export type Listed = AnswerTo<'GET /api/conversations'>;
export type ListedThread = Listed['threads'][number];
export type FullThread = AnswerTo<'GET /api/conversations/{id}'>;
export type ShownLine = FullThread['lines'][number];

const EVERY_MS = 30_000;

export const useThreads = (query: string) =>
  useQuery({
    queryKey: ['threads', query],
    queryFn: () => fetched('GET /api/conversations', { more: query }),
    refetchInterval: EVERY_MS,
    placeholderData: (before) => before,
  });

export const useThread = (id: string | undefined) =>
  useQuery({
    queryKey: ['thread', id],
    queryFn: () => fetched('GET /api/conversations/{id}', { params: { id: id ?? '' } }),
    enabled: id !== undefined,
    refetchInterval: EVERY_MS,
  });

const WRITES_MS = 6_000;

/** Follows what is said for as long as the screen is open; gives the threads that a visitor is writing in. */
export function useFollowing(): ReadonlySet<string> {
  const known = useQueryClient();
  const [writing, setWriting] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    const stream = new EventSource(addressOf('GET /api/conversations/live'));
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
