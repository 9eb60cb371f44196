import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { findSite, setPrivacy } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { privacySchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { consent, keptParameters } = await bodyAs(request, privacySchema);
    const site = await findSite(poolOf(siteId), siteId);
    await setPrivacy(poolOf(siteId), siteId, { consent, keptParameters: [...new Set(keptParameters)] });
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'privacy',
      name: 'privacy',
      did: 'changed',
      before: { consent: site?.consent, keptParameters: site?.keptParameters },
      after: { consent, keptParameters },
    });
  });
}
