import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { goals } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { goalToSaveSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, goal } = await bodyAs(request, goalToSaveSchema);
    const id = newId('goal');
    await goals.insert(poolOf(siteId), siteId, { id, name, body: goal });
    await noteChange(poolOf(siteId), siteId, member, { kind: 'goal', subject: id, name, did: 'made', after: { name, goal } });
    return { id };
  });
}
