import { requireSession } from '@/server/auth/current';
import { findSite } from '@/server/db/sites';
import { pool, poolOf } from '@/server/db/sharedPool';
import { openTryout } from '@/server/db/tryouts';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { tryoutSchema } from '@/server/http/requests';
import { addressOnSite, NotOfTheSite, withTicket } from '@/server/tryout/address';

export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { page, campaign, wants } = await bodyAs(request, tryoutSchema);
    const site = await findSite(poolOf(siteId), siteId);
    if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
    try {
      const url = await addressOnSite(poolOf(siteId), site, page);
      const { id, ticket } = await openTryout(pool(), { siteId, session: await requireSession(), campaign, wants });
      return { id, url: withTicket(url, site, ticket) };
    } catch (cause) {
      if (cause instanceof NotOfTheSite) throw new Refused(422, cause.code, cause.message);
      throw cause;
    }
  });
}
