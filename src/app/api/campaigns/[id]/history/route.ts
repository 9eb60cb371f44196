import { findCampaign } from '@/server/db/campaigns';
import { loadNames } from '@/server/db/recorded';
import { poolOf } from '@/server/db/sharedPool';
import { answer, Refused } from '@/server/http/api';
import { historyOf } from '@/server/releases/history';

export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { id } = await params;
    const db = poolOf(siteId);
    if (!(await findCampaign(db, siteId, id))) throw new Refused(404, 'notFound', 'That campaign is not here any more');
    return { history: await historyOf(db, siteId, id, await loadNames(db, siteId)) };
  });
}
