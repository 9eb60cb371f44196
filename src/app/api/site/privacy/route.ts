import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { findSite, setPrivacy } from '@/server/db/sites';
import { privacySchema } from '@/server/http/requests';

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { consent, keptParameters } = await bodyAs(request, privacySchema);
    return changing(member, async (db, note) => {
      const site = await findSite(db, siteId);
      await setPrivacy(db, siteId, { consent, keptParameters: [...new Set(keptParameters)] });
      await note({
        kind: 'setup',
        subject: 'privacy',
        name: 'privacy',
        did: 'changed',
        before: { consent: site?.consent, keptParameters: site?.keptParameters },
        after: { consent, keptParameters },
      });
    });
  });
}
