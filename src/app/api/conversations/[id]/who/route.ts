import { poolOf } from '@/server/db/sharedPool';
import { findThread } from '@/server/db/threads';
import { answer, Refused } from '@/server/http/api';
import { loadFacts } from '@/server/visitors/facts';

/** Who the visitor of a conversation is, by what is on record. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const thread = await findThread(poolOf(siteId), siteId, (await params).id);
    if (!thread) throw new Refused(404, 'notFound', 'This conversation is not here any more');
    return { facts: (await loadFacts(poolOf(siteId), siteId, thread.visitor)) ?? null };
  });
}
