import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { SegmentDocument } from '@/core/rules/schema';
import type { AnswerTo } from '../parts/net/call';
import { fetched } from '../parts/net/call';

type Body = Pick<SegmentDocument, 'lookback' | 'people'>;

/** Asks something about a segment under way; a newer question ends the one before. */
export function useCounted<W extends 'size' | 'contributions' | 'trend'>(
  what: W,
  { lookback, people }: Body,
  { isReady = true, more = {}, staleMs = 0 }: { isReady?: boolean; more?: Record<string, unknown>; staleMs?: number } = {},
) {
  return useQuery<AnswerTo<`POST /api/segments/${W}`>>({
    queryKey: [what, lookback, people, more],
    enabled: isReady,
    staleTime: staleMs,
    placeholderData: keepPreviousData,
    // What each of them takes is the same but for `more`.
    queryFn: ({ signal }) => fetched(`POST /api/segments/${what}`, ...([{ body: { lookback, people, ...more }, signal }] as never)),
  });
}
