import { answer, bodyAs } from '@/server/http/api';
import { listVisits } from '@/server/db/visits';
import { pool } from '@/server/db/sharedPool';
import { someVisitsSchema } from '@/server/http/requests';

/** Recorded visits by their ids, to draw. */
export async function POST(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { visits } = await bodyAs(request, someVisitsSchema);
    return visits.length ? listVisits(pool(), siteId, { limit: visits.length, visitIds: visits }) : [];
  });
}
