import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { CampaignToRehearse } from '@/core/rehearsal/rehearse';
import { answerInLines, bodyAs } from '@/server/http/api';
import { listCampaigns } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { rehearseSchema } from '@/server/http/requests';
import { analyse } from '@/server/analysis/analyse';

/** A rule over recorded visits; answers line by line as more is known. */
export async function POST(request: Request) {
  return answerInLines(request, async ({ siteId }) => {
    const { campaign, place, rule, days, withOthers } = await bodyAs(request, rehearseSchema);
    const live = withOthers
      ? (await listCampaigns(poolOf(siteId), siteId))
          .filter(({ status, id }) => status === 'live' || id === campaign)
          .map((one): CampaignToRehearse => ({ id: one.id, rule: one.rule, place: placeOf(startOf(one.flow)) }))
      : [];
    return (emit) =>
      analyse(
        { kind: 'rehearse', site: siteId, campaign: { id: campaign, place, rule }, days, live },
        { signal: request.signal, onPart: emit },
      );
  });
}
