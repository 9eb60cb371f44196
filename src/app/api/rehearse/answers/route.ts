import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import { answer, bodyAs } from '@/server/http/api';
import { listCampaigns } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { answersSchema } from '@/server/http/requests';
import { analyse } from '@/server/analysis/analyse';

/** What people conditions say of each view of a snapshot, with everything else that a rehearsal in the browser needs. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { days, snapshot, conditions } = await bodyAs(request, answersSchema);
    const [{ answers, ...told }, campaigns] = await Promise.all([
      analyse({ kind: 'answers', site: siteId, days, snapshot, conditions }, { signal: request.signal }),
      listCampaigns(poolOf(siteId), siteId),
    ]);
    return {
      ...told,
      answers: answers.map((bytes) => bytes && Buffer.from(bytes).toString('base64')),
      campaigns: campaigns.map(({ id, status, rule, flow }) => ({ id, isLive: status === 'live', rule, place: placeOf(startOf(flow)) })),
    };
  });
}
