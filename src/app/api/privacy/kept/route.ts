import { noteChange } from '@/server/db/changeLog';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs } from '@/server/http/api';
import { keptDaysSchema } from '@/server/http/requests';
import { keptOf, setKept } from '@/server/privacy/retention';

/** For how many days visits, leads and conversations are kept. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const kept = await bodyAs(request, keptDaysSchema);
    const before = await keptOf(poolOf(siteId), siteId);
    await setKept(poolOf(siteId), siteId, kept);
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'kept',
      name: 'how long is kept',
      did: 'changed',
      before: { ...before },
      after: { ...kept },
    });
  });
}
