import { findingsOf } from '@/core/install/look';
import { findCurrentRelease } from '@/server/db/releases';
import { findSite } from '@/server/db/sites';
import { poolOf } from '@/server/db/sharedPool';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { lookSchema } from '@/server/http/requests';
import { collectorUrl } from '@/server/pictures/url';
import { fetchAsStranger, lookAt, NotLookedAt, scriptAt } from '@/server/sites/look';

/** Our own servers, which may stand on this machine. */
const ownOrigins = (): string[] =>
  [process.env['CRINDLE_SITE_ORIGIN'], collectorUrl()].flatMap((url) => (url && URL.canParse(url) ? [new URL(url).origin] : []));

export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { url, as } = await bodyAs(request, lookSchema);
    const options = { own: ownOrigins() };
    try {
      if (as === 'script') {
        const ours = (await fetchAsStranger(`${collectorUrl()}/page.js`, options)).body;
        return { script: await scriptAt(url, ours, options) };
      }
      const db = poolOf(siteId);
      const [site, release] = [await findSite(db, siteId), await findCurrentRelease(db, siteId)];
      if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
      const looked = await lookAt(url, options);
      return {
        url: looked.url,
        findings: findingsOf(looked, {
          collector: collectorUrl(),
          siteKey: site.key,
          siteName: site.name,
          addresses: site.addresses,
          asks: site.consent === 'asked',
          hasRelease: release !== undefined,
        }),
      };
    } catch (cause) {
      if (cause instanceof NotLookedAt) throw new Refused(422, cause.code, `url: ${cause.message}`);
      throw cause;
    }
  });
}
