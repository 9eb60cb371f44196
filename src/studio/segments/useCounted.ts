import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { SegmentDocument } from '@/core/rules/schema';
import { send } from '../parts/net/send';

type Body = Pick<SegmentDocument, 'lookback' | 'people'>;

/** Asks something about a segment under way; a newer question ends the one before. */
export function useCounted<T>(
  what: 'size' | 'contributions' | 'trend',
  { lookback, people }: Body,
  { isReady = true, more = {}, staleMs = 0 }: { isReady?: boolean; more?: Record<string, unknown>; staleMs?: number } = {},
) {
  return useQuery<T>({
    queryKey: [what, lookback, people, more],
    enabled: isReady,
    staleTime: staleMs,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const result = await send<T>('POST', `/api/segments/${what}`, { lookback, people, ...more }, signal);
      if (!result.ok) throw new Error(result.message);
      return result.value;
    },
  });
}
