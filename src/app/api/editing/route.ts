import { answer, bodyAs } from '@/server/http/api';
import { leaveEditing, noteEditing } from '@/server/db/editing';
import { poolOf } from '@/server/db/sharedPool';
import { editingSchema } from '@/server/http/requests';

/** An editor says again and again that it is open, and hears who else has the same open and whether it was saved elsewhere. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId, id: memberId }) => {
    const { isLeaving, ...what } = await bodyAs(request, editingSchema);
    if (!isLeaving) return noteEditing(poolOf(siteId), { siteId, memberId, ...what });
    await leaveEditing(poolOf(siteId), { siteId, ...what });
    return undefined;
  });
}
