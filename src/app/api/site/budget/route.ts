import { budgetSchema } from '@/core/pacing/pacing';
import { answer, bodyAs } from '@/server/http/api';
import { setBudget } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';

/** What all campaigns of the site together may show. */
export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => setBudget(poolOf(siteId), siteId, await bodyAs(request, budgetSchema())));
}
