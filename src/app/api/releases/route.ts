import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { releaseSchema } from '@/server/http/requests';
import { publish } from '@/server/releases/publish';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId, id } = member;
    const { name, note, seen } = await bodyAs(request, releaseSchema);
    return changing(member, async (db, log) => {
      const number = await publish(db, { siteId, memberId: id, name, note, seen });
      await log({
        kind: 'release',
        subject: String(number),
        name: name || `Release ${number}`,
        did: 'published',
      });
      return { number };
    });
  });
}
