import { answer } from '@/server/http/api';
import { listSegments } from '@/server/db/segments';
import { pool } from '@/server/db/sharedPool';
import { analyse } from '@/server/analysis/analyse';

/** How many people each of the site's segments holds, by its id. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const segments = await listSegments(pool(), siteId);
    const sizes = await analyse(
      { kind: 'sizes', site: siteId, segments: segments.map(({ lookback, people }) => ({ lookback, people })) },
      { signal: request.signal },
    );
    return Object.fromEntries(segments.map(({ id }, index) => [id, { people: sizes[index]?.people ?? 0, of: sizes[index]?.of ?? 0 }]));
  });
}
