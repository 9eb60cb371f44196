import { changing } from '@/server/db/changing';
import { budgetSchema } from '@/core/pacing/pacing';
import { answer, bodyAs } from '@/server/http/api';
import { findSite, setBudget } from '@/server/db/sites';

/** What all campaigns of the site together may show. */
export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const after = await bodyAs(request, budgetSchema());
    return changing(member, async (db, note) => {
      const before = (await findSite(db, siteId))?.budget;
      await setBudget(db, siteId, after);
      await note({
        kind: 'setup',
        subject: 'budget',
        name: 'the budget',
        did: 'changed',
        before,
        after,
      });
    });
  });
}
