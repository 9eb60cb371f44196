import { requireSession } from '@/server/auth/current';
import { tokenHash } from '@/server/auth/token';
import { chooseSite } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { answer, Refused } from '@/server/http/api';

export async function POST(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async () => {
    const { id } = await params;
    const siteId = Number(id);
    const isChosen =
      Number.isInteger(siteId) &&
      siteId > 0 &&
      siteId < 2 ** 31 &&
      (await chooseSite(pool(), { tokenHash: tokenHash(await requireSession()), siteId }));
    if (!isChosen) throw new Refused(404, 'notFound', `No site of yours has the number ${id.slice(0, 20)}`);
  });
}
