import { answer } from '@/server/http/api';
import { listSegments } from '@/server/db/segments';
import { poolOf } from '@/server/db/sharedPool';

/** Every segment of the site as docs/formats/segment.schema.json has it, to take elsewhere; `id` names one of them. */
export async function GET(request: Request) {
  const response = await answer(request, async ({ siteId }) => {
    const wanted = new URL(request.url).searchParams.get('id');
    return (await listSegments(poolOf(siteId), siteId))
      .filter(({ id }) => wanted === null || id === wanted)
      .map(({ id, name, lookback, people }) => ({ version: 1, id, name, lookback, people }));
  });
  if (response.ok) response.headers.set('content-disposition', 'attachment; filename="segments.json"');
  return response;
}
