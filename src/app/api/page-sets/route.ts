import { answer, bodyAs } from '@/server/http/api';
import { insertPageSet } from '@/server/db/vocabulary';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';
import { pageSetSchema } from '@/server/http/requests';

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { name, patterns } = await bodyAs(request, pageSetSchema);
    const id = newId('set');
    await insertPageSet(poolOf(siteId), siteId, { id, name, patterns });
    return { id };
  });
}
