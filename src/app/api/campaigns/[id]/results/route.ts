import { findCampaign } from '@/server/db/campaigns';
import { readingOf } from '@/server/db/sharedPool';
import { answer, queryAs, Refused } from '@/server/http/api';
import { resultsQuerySchema } from '@/server/http/requests';
import { campaignResults } from '@/server/results/report';

export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { from, to, zone, by, points } = queryAs(request, resultsQuerySchema);
    const now = Date.now();
    const db = await (await readingOf(siteId)).caughtUp();
    const campaign = await findCampaign(db, siteId, (await params).id);
    if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
    return campaignResults(db, siteId, campaign, { from: from ?? 0, to: to ?? now, now, zone, by, points });
  });
}
