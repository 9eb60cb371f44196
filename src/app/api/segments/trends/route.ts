import { analyse } from '@/server/analysis/analyse';
import { keepAnswer, segmentKey } from '@/server/db/lastAnswers';
import { listSegments } from '@/server/db/segments';
import { poolOf } from '@/server/db/sharedPool';
import { answer } from '@/server/http/api';

const DAYS = 30;

/** Each segment's members at every midnight of the last thirty days and now, by its id and revision. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => {
    const segments = await listSegments(poolOf(siteId), siteId);
    const lines = await analyse(
      { kind: 'trends', site: siteId, segments: segments.map(({ lookback, people }) => ({ lookback, people })), days: DAYS },
      { signal: request.signal },
    );
    const trends = Object.fromEntries(segments.map((segment, index) => [segmentKey(segment), lines[index] ?? []]));
    await keepAnswer(poolOf(siteId), siteId, { question: 'trends', answer: trends });
    return trends;
  });
}
