import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import { answerInLines, bodyAs } from '@/server/http/api';
import { listCampaigns } from '@/server/db/campaigns';
import { findSite } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { portfolioSchema } from '@/server/http/requests';
import { analyse } from '@/server/analysis/analyse';
import { keepAnswer } from '@/server/db/lastAnswers';

/** What an order and a budget leave each live campaign; answers line by line as more is known. */
export async function POST(request: Request) {
  return answerInLines(request, async ({ siteId }) => {
    const { campaigns: order, budget, days } = await bodyAs(request, portfolioSchema);
    const all = await listCampaigns(poolOf(siteId), siteId);
    const live = all.filter(({ status, id }) => status === 'live' && order.includes(id));
    const campaigns = live
      .sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id))
      .map(({ id, rule, flow }) => ({ id, rule, place: placeOf(startOf(flow)) }));
    const site = await findSite(poolOf(siteId), siteId);
    const isSaved = all.every(({ id }, index) => order[index] === id) && JSON.stringify(site?.budget) === JSON.stringify(budget);
    return async (emit) => {
      const report = await analyse({ kind: 'portfolio', site: siteId, campaigns, budget, days }, { signal: request.signal, onPart: emit });
      // An order or a budget that is only tried is not what the list says the next time.
      if (isSaved) await keepAnswer(poolOf(siteId), siteId, { question: 'portfolio', answer: report });
      return report;
    };
  });
}
