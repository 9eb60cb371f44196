import type { SegmentDocument } from '@/core/rules/schema';

/** What a new segment says until somebody writes it. */
export const FRESH: SegmentDocument = {
  lookback: 30,
  people: { kind: 'viewed', pages: [{ op: 'like', value: '/**' }], times: { min: 1 } },
};

export const isFresh = ({ lookback, people }: SegmentDocument): boolean => JSON.stringify({ lookback, people }) === JSON.stringify(FRESH);
