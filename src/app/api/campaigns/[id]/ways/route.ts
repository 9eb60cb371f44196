import { waysOf } from '@/core/results/ways';
import { findCampaign } from '@/server/db/campaigns';
import { readingOf } from '@/server/db/sharedPool';
import { answer, queryAs, Refused } from '@/server/http/api';
import { resultsQuerySchema } from '@/server/http/requests';
import { loadWays } from '@/server/results/ways';

/** How many showings went which way through a campaign's messages. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { from, to } = queryAs(request, resultsQuerySchema);
    const db = await (await readingOf(siteId)).caughtUp();
    const campaign = await findCampaign(db, siteId, (await params).id);
    if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
    const { flow, variants = [] } = campaign;
    const taken = await loadWays(db, siteId, { campaign: campaign.id, from: from ?? 0, to: to ?? Date.now() });
    return waysOf(taken, (variant) => variants.find(({ name }) => name === variant)?.start ?? flow.start);
  });
}
