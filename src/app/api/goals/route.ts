import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { goals } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { goalToSaveSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, goal } = await bodyAs(request, goalToSaveSchema);
    const id = newId('goal');
    return changing(member, async (db, note) => {
      await goals.insert(db, siteId, { id, name, body: goal });
      await note({ kind: 'goal', subject: id, name, did: 'made', after: { name, goal } });
      return { id };
    });
  });
}
