import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { keptDaysSchema } from '@/server/http/requests';
import { keptOf, setKept } from '@/server/privacy/retention';

/** For how many days visits, leads and conversations are kept. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const kept = await bodyAs(request, keptDaysSchema);
    return changing(member, async (db, note) => {
      const before = await keptOf(db, siteId);
      await setKept(db, siteId, kept);
      await note({
        kind: 'setup',
        subject: 'kept',
        name: 'how long is kept',
        did: 'changed',
        before: { ...before },
        after: { ...kept },
      });
    });
  });
}
