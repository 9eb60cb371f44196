import { answer, bodyAs } from '@/server/http/api';
import { poolOf } from '@/server/db/sharedPool';
import { releaseSchema } from '@/server/http/requests';
import { publish } from '@/server/releases/publish';

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId, id }) => {
    const { name, note } = await bodyAs(request, releaseSchema);
    return { number: await publish(poolOf(siteId), { siteId, memberId: id, name, note }) };
  });
}
