import { z } from 'zod';
import { fromGeoJson } from '@/core/geo/geojson';
import { issueWords } from '@/core/parsing/parse';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { withTransaction } from '@/server/db/pool';
import { insertPlace } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';

/** GeoJSON's features become places, all or none. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const parsed = fromGeoJson(await bodyAs(request, z.unknown()));
    if (!parsed.ok) throw new Refused(422, 'body.shape', parsed.issues.slice(0, 5).map(issueWords).join('; '), parsed.issues);
    const made = parsed.value.map((place) => ({ id: newId('place'), ...place }));
    await withTransaction(poolOf(siteId), async (tx) => {
      for (const place of made) await insertPlace(tx, siteId, place);
    });
    return { places: made.map(({ id, name }) => ({ id, name })) };
  });
}
