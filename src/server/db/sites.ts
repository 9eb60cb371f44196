import type { Budget } from '@/core/pacing/pacing';
import type { Queryable } from './queryable';
import { many, maybeOne, one } from './queryable';

export interface Site {
  readonly id: number;
  readonly key: string;
  readonly name: string;
  /** Hosts, with a port where one is written. */
  readonly addresses: readonly string[];
  readonly budget: Budget;
}

export async function createSite(
  db: Queryable,
  { key, name, addresses, budget = {} }: Omit<Site, 'id' | 'budget'> & { budget?: Budget },
): Promise<Site> {
  return one<Site & Record<string, unknown>>(
    db,
    `insert into site (key, name, addresses, budget) values ($1, $2, $3, $4)
     returning id, key, name, addresses, budget`,
    [key, name, addresses, budget],
  );
}

export async function findSiteByKey(db: Queryable, key: string): Promise<Site | undefined> {
  return maybeOne<Site & Record<string, unknown>>(db, `select id, key, name, addresses, budget from site where key = $1`, [key]);
}

export async function findSite(db: Queryable, siteId: number): Promise<Site | undefined> {
  return maybeOne<Site & Record<string, unknown>>(db, `select id, key, name, addresses, budget from site where id = $1`, [siteId]);
}

export async function setAddresses(db: Queryable, siteId: number, addresses: readonly string[]): Promise<void> {
  await one(db, `update site set addresses = $2 where id = $1 returning id`, [siteId, addresses]);
}

export interface Refusal {
  readonly reason: 'robot' | 'address';
  readonly subject: string;
  readonly times: number;
  readonly lastAt: Date;
}

export async function noteRefusal(db: Queryable, siteId: number, reason: Refusal['reason'], subject: string): Promise<void> {
  await db.query(
    `insert into refused (site_id, day, reason, subject) values ($1, current_date, $2, $3)
     on conflict (site_id, day, reason, subject) do update set times = refused.times + 1, last_at = now()`,
    [siteId, reason, subject.slice(0, 200)],
  );
}

export async function listRefusals(db: Queryable, siteId: number): Promise<Refusal[]> {
  return many<Refusal & Record<string, unknown>>(
    db,
    `select reason, subject, sum(times)::int as times, max(last_at) as "lastAt" from refused
      where site_id = $1 and day > current_date - 7
      group by reason, subject order by max(last_at) desc limit 50`,
    [siteId],
  );
}

/** Pages on which the script was seen, newest first. */
export async function listSeenPages(db: Queryable, siteId: number): Promise<{ url: string; lastAt: Date; views: number }[]> {
  return many(
    db,
    `select url, max(at) as "lastAt", count(*)::int as views
       from (select split_part(split_part(url, '#', 1), '?', 1) as url, at from page_view
              where site_id = $1 order by at desc limit 2000) as recent
      group by url order by max(at) desc limit 12`,
    [siteId],
  );
}

export async function lastSeen(db: Queryable, siteId: number): Promise<{ url: string; at: Date } | undefined> {
  return maybeOne(db, `select url, at from page_view where site_id = $1 order by at desc limit 1`, [siteId]);
}
