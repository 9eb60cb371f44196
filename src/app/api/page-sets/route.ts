import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { insertPageSet } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { pageSetSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { name, patterns } = await bodyAs(request, pageSetSchema);
    const id = newId('set');
    return changing(member, async (db, note) => {
      await insertPageSet(db, siteId, { id, name, patterns });
      await note({ kind: 'page set', subject: id, name, did: 'made', after: { name, patterns } });
      return { id };
    });
  });
}
