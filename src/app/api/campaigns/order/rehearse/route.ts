import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import { answerInLines, bodyAs } from '@/server/http/api';
import { listCampaigns } from '@/server/db/campaigns';
import { pool } from '@/server/db/sharedPool';
import { portfolioSchema } from '@/server/http/requests';
import { analyse } from '@/server/analysis/analyse';

/** What an order and a budget leave each live campaign; answers line by line as more is known. */
export async function POST(request: Request) {
  return answerInLines(request, async ({ siteId }) => {
    const { campaigns: order, budget, days } = await bodyAs(request, portfolioSchema);
    const live = (await listCampaigns(pool(), siteId)).filter(({ status, id }) => status === 'live' && order.includes(id));
    const campaigns = live
      .sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id))
      .map(({ id, rule, flow }) => ({ id, rule, place: placeOf(startOf(flow)) }));
    return (emit) => analyse({ kind: 'together', site: siteId, campaigns, budget, days }, { signal: request.signal, onPart: emit });
  });
}
