import { answer, bodyAs, Refused } from '@/server/http/api';
import { findSite, setBrand } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { brandChangeSchema } from '@/server/http/requests';

export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => (await findSite(poolOf(siteId), siteId))?.brand ?? {});
}

export async function PUT(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const change = await bodyAs(request, brandChangeSchema);
    if (await setBrand(poolOf(siteId), siteId, change)) return;
    throw new Refused(
      409,
      'outdated',
      'Somebody has changed the brand since you opened it. Nothing was saved; load the page again to see it.',
    );
  });
}
