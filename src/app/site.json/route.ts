import { findSite } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { exportSite } from '@/server/exchange/site';
import { answer, Refused } from '@/server/http/api';

/** Everything that people wrote for the site as docs/formats/site.schema.json has it, to keep or to bring into another site. */
export async function GET(request: Request) {
  const response = await answer(request, async ({ siteId }) => {
    const site = await findSite(poolOf(siteId), siteId);
    if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
    return exportSite(poolOf(siteId), site);
  });
  if (response.ok) response.headers.set('content-disposition', 'attachment; filename="site.json"');
  return response;
}
