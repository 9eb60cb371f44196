import { may } from '@/server/auth/rights';
import { answer, queryAs } from '@/server/http/api';
import { searchSite } from '@/server/db/search';
import { poolOf } from '@/server/db/sharedPool';
import { searchSchema } from '@/server/http/requests';

/** Everything of the site whose name contains `text`. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId, role }) => {
    return searchSite(poolOf(siteId), siteId, queryAs(request, searchSchema).text, { withPeople: may(role, 'people') });
  });
}
