import { answer, bodyAs, Refused } from '@/server/http/api';
import { bringBack } from '@/server/db/trash';
import { NotExactlyOneRow } from '@/server/db/queryable';
import { poolOf } from '@/server/db/sharedPool';
import { binSchema } from '@/server/http/requests';

/** Brings back what was deleted, as it was. */
export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { kind, id } = await bodyAs(request, binSchema);
    await bringBack(poolOf(siteId), kind, siteId, id).catch((cause: unknown) => {
      if (cause instanceof NotExactlyOneRow)
        throw new Refused(404, 'notFound', 'It is no longer kept: what is deleted is kept for thirty days, and brought back once');
      throw cause;
    });
  });
}
