import { changing } from '@/server/db/changing';
import { eraseLeads, tagLeads } from '@/server/db/leads';
import { answer, bodyAs, demand } from '@/server/http/api';
import { leadsSchema } from '@/server/http/requests';

/** Several leads at once. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const asked = await bodyAs(request, leadsSchema);
    return changing(member, async (db, note) => {
      if (asked.does === 'tag') return { leads: await tagLeads(db, siteId, asked) };
      demand(member, 'own');
      const leads = await eraseLeads(db, siteId, asked.ids);
      if (leads > 0)
        await note({
          kind: 'setup',
          subject: 'leads',
          name: leads === 1 ? 'One lead' : `${leads} leads`,
          did: 'erased',
        });
      return { leads };
    });
  });
}
