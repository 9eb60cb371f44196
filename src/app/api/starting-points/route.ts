import { answer, bodyAs, Refused } from '@/server/http/api';
import { documentOf, findCampaign } from '@/server/db/campaigns';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { insertStartingPoint } from '@/server/db/startingPoints';
import { newStartingPointSchema } from '@/server/http/requests';

/** Keeps a campaign as it is, for others to begin from. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { campaign, use } = await bodyAs(request, newStartingPointSchema);
    const met = await findCampaign(poolOf(siteId), siteId, campaign);
    if (!met) throw new Refused(404, 'notFound', 'This campaign was deleted elsewhere');
    const document = documentOf(met);
    const id = newId('start');
    await insertStartingPoint(poolOf(siteId), siteId, { id, use, document });
    return { id };
  });
}
