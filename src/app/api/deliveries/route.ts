import { sendAgain } from '@/server/db/connections';
import { membersAgain } from '@/server/db/keptSegments';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { sendAgainSchema } from '@/server/http/requests';

/** What waits or has failed for a connection is sent again, at once. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { connection, delivery } = await bodyAs(request, sendAgainSchema);
    const again = await sendAgain(poolOf(siteId), siteId, { connection, id: delivery });
    return { again: again + (delivery ? 0 : await membersAgain(poolOf(siteId), siteId, connection)) };
  });
}
