import { answer } from '@/server/http/api';
import { listSegments } from '@/server/db/segments';
import { pool } from '@/server/db/sharedPool';
import { analyse } from '@/server/analysis/analyse';

const DAYS = 30;

/** Each segment's members at every midnight of the last thirty days and now, by its id. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const segments = await listSegments(pool(), siteId);
    const lines = await analyse(
      { kind: 'trends', site: siteId, segments: segments.map(({ lookback, people }) => ({ lookback, people })), days: DAYS },
      { signal: request.signal },
    );
    return Object.fromEntries(segments.map(({ id }, index) => [id, lines[index] ?? []]));
  });
}
