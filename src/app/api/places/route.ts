import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { insertPlace } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { newPlaceSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, shape } = await bodyAs(request, newPlaceSchema);
    const id = newId('place');
    await insertPlace(poolOf(siteId), siteId, { id, name, shape });
    await noteChange(poolOf(siteId), siteId, member, { kind: 'place', subject: id, name, did: 'made', after: { name, shape } });
    return { id };
  });
}
