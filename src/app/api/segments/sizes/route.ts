import { answer } from '@/server/api';
import { listSegments } from '@/server/db/segments';
import { pool } from '@/server/pool';
import { think } from '@/server/thinking/think';

/** How many people each of the site's segments holds, by its id. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const segments = await listSegments(pool(), siteId);
    const sizes = await think(
      { kind: 'sizes', site: siteId, segments: segments.map(({ lookback, people }) => ({ lookback, people })) },
      { signal: request.signal },
    );
    return Object.fromEntries(segments.map(({ id }, index) => [id, { people: sizes[index]?.people ?? 0, of: sizes[index]?.of ?? 0 }]));
  });
}
