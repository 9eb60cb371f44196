import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { insertPageSet } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { pageSetSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, patterns } = await bodyAs(request, pageSetSchema);
    const id = newId('set');
    await insertPageSet(poolOf(siteId), siteId, { id, name, patterns });
    await noteChange(poolOf(siteId), siteId, member, { kind: 'page set', subject: id, name, did: 'made', after: { name, patterns } });
    return { id };
  });
}
