import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { insertPlace } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { newPlaceSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, shape } = await bodyAs(request, newPlaceSchema);
    const id = newId('place');
    return changing(member, async (db, note) => {
      await insertPlace(db, siteId, { id, name, shape });
      await note({ kind: 'place', subject: id, name, did: 'made', after: { name, shape } });
      return { id };
    });
  });
}
