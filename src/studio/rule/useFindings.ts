import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Finding } from '@/core/rules/lint';
import type { Rule, SegmentDocument } from '@/core/rules/schema';
import { call } from '../parts/net/call';
import { useSettled } from '../parts/saving/useSettled';

type Asked = { readonly rule: Rule } | { readonly segment: Pick<SegmentDocument, 'lookback' | 'people'> };

/** What is wrong with a rule or a segment, by what the site has on record; asked anew when typing has stopped. */
export function useFindings(document: Asked, isReady: boolean): readonly Finding[] {
  const settled = useSettled(document, SETTLE_MS);
  const { data } = useQuery({
    queryKey: ['lint', settled],
    enabled: isReady,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const result = await call('POST /api/lint', { body: settled, signal });
      if (!result.ok) throw new Error(result.message);
      return result.value.findings;
    },
  });
  return data ?? NONE;
}

const SETTLE_MS = 300;
const NONE: readonly Finding[] = [];
