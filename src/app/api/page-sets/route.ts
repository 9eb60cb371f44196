import { answer, bodyAs } from '@/server/api';
import { insertPageSet } from '@/server/db/vocabulary';
import { newId } from '@/server/ids';
import { pool } from '@/server/pool';
import { pageSetSchema } from '@/server/requests';

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { name, patterns } = await bodyAs(request, pageSetSchema);
    const id = newId('set');
    await insertPageSet(pool(), siteId, { id, name, patterns });
    return { id };
  });
}
