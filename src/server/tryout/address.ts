import type { Site } from '../db/sites';
import { maybeOne } from '../db/queryable';
import type { Queryable } from '../db/queryable';

/** A page that is none of the site's. */
export class NotOfTheSite extends Error {
  readonly code = 'tryout.page';
}

const ON_THIS_MACHINE = /^(localhost|127\.\d+\.\d+\.\d+|\[::1\])(:\d+)?$/;

/**
 * The address of a page of the site: a path is taken on the address where the script was seen last, anything else has to be on one of the site's
 * addresses. @throws NotOfTheSite
 */
export async function addressOnSite(db: Queryable, site: Pick<Site, 'id' | 'addresses' | 'name'>, page: string): Promise<URL> {
  if (page.startsWith('/') && !page.startsWith('//')) {
    const seen = await maybeOne<{ url: string }>(db, `select url from page_view where site_id = $1 order by at desc limit 1`, [site.id]);
    if (seen && URL.canParse(seen.url) && site.addresses.includes(new URL(seen.url).host)) return new URL(page, seen.url);
    const [first = ''] = site.addresses;
    return new URL(page, `${ON_THIS_MACHINE.test(first) ? 'http' : 'https'}://${first}`);
  }
  const met = URL.canParse(page) ? new URL(page) : undefined;
  if (met && /^https?:$/.test(met.protocol) && site.addresses.includes(met.host)) return met;
  throw new NotOfTheSite(
    `page: met ${page.slice(0, 100)}, expected a path such as /contact, or an address on ${site.addresses.join(' or ')}, which are the addresses of ${site.name} (Setup)`,
  );
}

/** What the address carries of a try-out for its first load: a fragment, which no server is sent. */
export const withTicket = (url: URL, { key }: Pick<Site, 'key'>, ticket: string): string =>
  `${url.href}${url.hash ? '' : '#'}crindle=${key}.${ticket}`;
