import type pg from 'pg';
import { Directory } from '@/server/db/directory';
import type { Database } from '@/server/db/directory';
import { createPool, nodePool } from '@/server/db/pool';
import type { Site } from '@/server/db/sites';
import { findSite, findSiteByKey } from '@/server/db/sites';
import { required, Usage } from './options';

/** `server`: the pool of the server that the site is on. Opens the database for a command about the site with a key, on whichever server it is, and closes it again. */
export async function withSite<T>(key: string | undefined, work: (pool: Database, site: Site, server: pg.Pool) => Promise<T>): Promise<T> {
  return withDirectory(async (directory) => {
    const named = await findSiteByKey(directory.home, required('--site', key));
    const pool = named && directory.of(named.id);
    const site = pool && (await findSite(pool, named.id));
    if (!site) throw new Usage(`--site: met ${key}, expected the key of a site`);
    return work(pool, site, (await directory.find(named.id)).pool);
  });
}

/** `as`: by what address another server is asked than by its own. */
export async function withDirectory<T>(work: (directory: Directory) => Promise<T>, as = (url: string) => url): Promise<T> {
  const home = createPool(10, { isDirect: true });
  const directory = new Directory(home, (url) => nodePool(as(url)));
  try {
    return await work(directory);
  } finally {
    await Promise.all([home.end(), directory.end()]);
  }
}
