import { answer, bodyAs } from '@/server/http/api';
import { countIn, listSpots } from '@/server/map/visitors';
import { poolOf } from '@/server/db/sharedPool';
import { placeCountSchema } from '@/server/http/requests';

/** How many visitors of the last thirty days are in a shape, and how exact their positions are. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { shape } = await bodyAs(request, placeCountSchema);
    return countIn(shape, await listSpots(poolOf(siteId), siteId));
  });
}
