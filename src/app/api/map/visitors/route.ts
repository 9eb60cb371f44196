import { answer } from '@/server/http/api';
import { listSpots } from '@/server/map/visitors';
import { poolOf } from '@/server/db/sharedPool';

/** Where the visitors of the last thirty days were. */
export async function GET(request: Request) {
  return answer(request, ({ siteId }) => listSpots(poolOf(siteId), siteId));
}
