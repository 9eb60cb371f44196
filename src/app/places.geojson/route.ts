import { toGeoJson } from '@/core/geo/geojson';
import { answer } from '@/server/http/api';
import { places } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';

/** Every place of the site, to take elsewhere; `id` names one of them. */
export async function GET(request: Request) {
  const response = await answer(request, async ({ siteId }) => {
    const id = new URL(request.url).searchParams.get('id');
    return toGeoJson((await places.list(poolOf(siteId), siteId)).filter((place) => id === null || place.id === id));
  });
  if (response.ok) {
    response.headers.set('content-type', 'application/geo+json; charset=utf-8');
    response.headers.set('content-disposition', 'attachment; filename="places.geojson"');
  }
  return response;
}
