import { setPresence } from '@/server/db/colleagues';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { presenceSchema } from '@/server/http/requests';

/** By hand here, or away, until then: of whoever asks. */
export async function PUT(request: Request) {
  return answer(request, async ({ siteId, id }) => {
    const presence = await bodyAs(request, presenceSchema);
    await setPresence(poolOf(siteId), siteId, { member: id, ...presence });
  });
}
