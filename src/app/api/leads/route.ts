import { noteChange } from '@/server/db/changeLog';
import { eraseLeads, tagLeads } from '@/server/db/leads';
import { withTransaction } from '@/server/db/pool';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, demand } from '@/server/http/api';
import { leadsSchema } from '@/server/http/requests';

/** Several leads at once. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const asked = await bodyAs(request, leadsSchema);
    if (asked.does === 'tag') return { leads: await tagLeads(poolOf(siteId), siteId, asked) };
    demand(member, 'own');
    const leads = await withTransaction(poolOf(siteId), (tx) => eraseLeads(tx, siteId, asked.ids));
    if (leads > 0)
      await noteChange(poolOf(siteId), siteId, member, {
        kind: 'setup',
        subject: 'leads',
        name: leads === 1 ? 'One lead' : `${leads} leads`,
        did: 'erased',
      });
    return { leads };
  });
}
