import { answer, bodyAs } from '@/server/api';
import { pool } from '@/server/pool';
import { releaseSchema } from '@/server/requests';
import { publish } from '@/server/releases/publish';

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId, id }) => {
    const { name, note } = await bodyAs(request, releaseSchema);
    return { number: await publish(pool(), { siteId, memberId: id, name, note }) };
  });
}
