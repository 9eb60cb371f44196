import { requireSession } from '@/server/auth/current';
import { tokenHash } from '@/server/auth/token';
import { chooseSite } from '@/server/db/members';
import { withTransaction } from '@/server/db/pool';
import { pool } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { newSiteSchema } from '@/server/http/requests';
import { makeSite } from '@/server/sites/make';

export async function POST(request: Request) {
  return answer(request, async ({ id: memberId }) => {
    const { name, address } = await bodyAs(request, newSiteSchema);
    const session = tokenHash(await requireSession());
    return withTransaction(pool(), async (tx) => {
      const { id, key } = await makeSite(tx, { name, host: address, memberId });
      await chooseSite(tx, { tokenHash: session, siteId: id });
      return { id, key };
    });
  });
}
