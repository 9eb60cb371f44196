import { requireSession } from '@/server/auth/current';
import { pool } from '@/server/db/sharedPool';
import { findPointed } from '@/server/db/tryouts';
import { answer, Refused } from '@/server/http/api';

export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async () => {
    const found = await findPointed(pool(), { id: (await params).id, session: await requireSession() });
    if (!found) throw new Refused(404, 'notFound', 'The tab on the site was left, or nothing was heard of it for an hour');
    return found;
  });
}
