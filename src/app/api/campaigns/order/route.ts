import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { orderCampaigns } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { orderSchema } from '@/server/http/requests';

/** Puts all campaigns of the site in an order; each must be named once. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { campaigns } = await bodyAs(request, orderSchema);
    if (!(await orderCampaigns(poolOf(siteId), siteId, campaigns)))
      throw new Refused(409, 'order.outdated', 'The campaigns have changed elsewhere; the list is shown anew, and nothing was moved.');
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'order',
      name: 'the order of campaigns',
      did: 'changed',
      after: campaigns,
    });
  });
}
