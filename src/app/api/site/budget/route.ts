import { noteChange } from '@/server/db/changeLog';
import { budgetSchema } from '@/core/pacing/pacing';
import { answer, bodyAs } from '@/server/http/api';
import { findSite, setBudget } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';

/** What all campaigns of the site together may show. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const after = await bodyAs(request, budgetSchema());
    const before = (await findSite(poolOf(siteId), siteId))?.budget;
    await setBudget(poolOf(siteId), siteId, after);
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'setup',
      subject: 'budget',
      name: 'the budget',
      did: 'changed',
      before,
      after,
    });
  });
}
