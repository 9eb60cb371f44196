import { answer, bodyAs } from '@/server/api';
import { insertPlace } from '@/server/db/vocabulary';
import { newId } from '@/server/ids';
import { pool } from '@/server/pool';
import { newPlaceSchema } from '@/server/requests';

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { name, shape } = await bodyAs(request, newPlaceSchema);
    const id = newId('place');
    await insertPlace(pool(), siteId, { id, name, shape });
    return { id };
  });
}
