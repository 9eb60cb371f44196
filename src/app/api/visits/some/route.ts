import { answer, bodyAs } from '@/server/http/api';
import { listSomeVisits } from '@/server/db/visits';
import { readingOf } from '@/server/db/sharedPool';
import { someVisitsSchema } from '@/server/http/requests';

/** Recorded visits by their ids, to draw. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { visits } = await bodyAs(request, someVisitsSchema);
    return listSomeVisits(await readingOf(siteId), siteId, visits);
  });
}
