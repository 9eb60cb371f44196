import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { poolOf } from '@/server/db/sharedPool';
import { releaseSchema } from '@/server/http/requests';
import { publish } from '@/server/releases/publish';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId, id } = member;
    const { name, note, seen } = await bodyAs(request, releaseSchema);
    const number = await publish(poolOf(siteId), { siteId, memberId: id, name, note, seen });
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'release',
      subject: String(number),
      name: name || `Release ${number}`,
      did: 'published',
    });
    return { number };
  });
}
