import { changing } from '@/server/db/changing';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { findSite, setBrand } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { brandChangeSchema } from '@/server/http/requests';

export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => (await findSite(poolOf(siteId), siteId))?.brand ?? {});
}

export async function PUT(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const change = await bodyAs(request, brandChangeSchema);
    return changing(member, async (db, note) => {
      if (await setBrand(db, siteId, change))
        return note({
          kind: 'setup',
          subject: 'brand',
          name: 'the brand',
          did: 'changed',
          before: change.was,
          after: change.brand,
        });
      throw new Refused(
        409,
        'outdated',
        'Somebody has changed the brand since you opened it. Nothing was saved; load the page again to see it.',
      );
    });
  });
}
