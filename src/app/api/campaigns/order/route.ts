import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { orderCampaigns } from '@/server/db/campaigns';
import { orderSchema } from '@/server/http/requests';

/** Puts all campaigns of the site in an order; each must be named once. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { campaigns } = await bodyAs(request, orderSchema);
    return changing(member, async (db, note) => {
      if (!(await orderCampaigns(db, siteId, campaigns)))
        throw new Refused(409, 'order.outdated', 'The campaigns have changed elsewhere; the list is shown anew, and nothing was moved.');
      await note({
        kind: 'setup',
        subject: 'order',
        name: 'the order of campaigns',
        did: 'changed',
        after: campaigns,
      });
    });
  });
}
