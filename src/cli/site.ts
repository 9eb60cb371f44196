import type pg from 'pg';
import { createPool } from '@/server/db/pool';
import type { Site } from '@/server/db/sites';
import { findSiteByKey } from '@/server/db/sites';
import { required, Usage } from './options';

/** Opens the database for a command about the site with a key, and closes it again. */
export async function withSite<T>(key: string | undefined, work: (pool: pg.Pool, site: Site) => Promise<T>): Promise<T> {
  const pool = createPool();
  try {
    const site = await findSiteByKey(pool, required('--site', key));
    if (!site) throw new Usage(`--site: met ${key}, expected the key of a site`);
    return await work(pool, site);
  } finally {
    await pool.end();
  }
}
