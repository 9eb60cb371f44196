import type { Refusal } from '../db/sites';
import type { Queryable } from '../db/queryable';
import { findCurrentRelease } from '../db/releases';
import { lastSeen, lastTrial, listFaults, listRefusals, listSeenPages } from '../db/sites';

export interface SiteCheck {
  readonly seen: { readonly url: string; readonly at: number } | null;
  readonly pages: readonly { readonly url: string; readonly at: number; readonly views: number }[];
  readonly refusals: readonly {
    readonly reason: Refusal['reason'];
    readonly subject: string;
    readonly times: number;
    readonly at: number;
  }[];
  readonly faults: readonly { readonly entry: string; readonly message: string; readonly times: number; readonly at: number }[];
  readonly release: number | null;
  /** When `crindle_here` was reported last, which is what one does to try the stub. */
  readonly trial: number | null;
}

/** Is the script there, on which pages and when was it seen, and what was turned away? Instants are UTC ms. */
export async function checkSite(db: Queryable, siteId: number): Promise<SiteCheck> {
  const [seen, pages, refusals, faults, release, trial] = await Promise.all([
    lastSeen(db, siteId),
    listSeenPages(db, siteId),
    listRefusals(db, siteId),
    listFaults(db, siteId),
    findCurrentRelease(db, siteId),
    lastTrial(db, siteId),
  ]);
  return {
    seen: seen ? { url: seen.url, at: seen.at.getTime() } : null,
    pages: pages.map(({ url, lastAt, views }) => ({ url, at: lastAt.getTime(), views })),
    refusals: refusals.map(({ reason, subject, times, lastAt }) => ({ reason, subject, times, at: lastAt.getTime() })),
    faults: faults.map(({ entry, message, times, lastAt }) => ({ entry, message, times, at: lastAt.getTime() })),
    release: release?.number ?? null,
    trial: trial?.at.getTime() ?? null,
  };
}
