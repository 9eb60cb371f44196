import { findCampaign } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { analyse } from '@/server/analysis/analyse';
import { answer, queryAs, Refused } from '@/server/http/api';
import { zoneQuerySchema } from '@/server/http/requests';

const DAYS = 30;

/** Of the last whole days what the release in force gives over the recorded visits, beside what came. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { zone } = queryAs(request, zoneQuerySchema);
    const campaign = await findCampaign(poolOf(siteId), siteId, (await params).id);
    if (!campaign) throw new Refused(404, 'notFound', 'That campaign is not here any more');
    return {
      days: await analyse({ kind: 'foretold', site: siteId, campaign: campaign.id, days: DAYS, zone }, { signal: request.signal }),
    };
  });
}
