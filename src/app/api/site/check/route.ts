import { answer } from '@/server/api';
import { lastSeen, listFaults, listRefusals, listSeenPages } from '@/server/db/sites';
import { findCurrentRelease } from '@/server/db/releases';
import { pool } from '@/server/pool';

export interface SiteCheck {
  readonly seen: { readonly url: string; readonly at: number } | null;
  readonly pages: readonly { readonly url: string; readonly at: number; readonly views: number }[];
  readonly refusals: readonly {
    readonly reason: 'robot' | 'address' | 'consent';
    readonly subject: string;
    readonly times: number;
    readonly at: number;
  }[];
  readonly faults: readonly { readonly entry: string; readonly message: string; readonly times: number; readonly at: number }[];
  readonly release: number | null;
}

/** Is the script there, on which pages and when was it seen, and what was turned away? */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }): Promise<SiteCheck> => {
    const [seen, pages, refusals, faults, release] = await Promise.all([
      lastSeen(pool(), siteId),
      listSeenPages(pool(), siteId),
      listRefusals(pool(), siteId),
      listFaults(pool(), siteId),
      findCurrentRelease(pool(), siteId),
    ]);
    return {
      seen: seen ? { url: seen.url, at: seen.at.getTime() } : null,
      pages: pages.map(({ url, lastAt, views }) => ({ url, at: lastAt.getTime(), views })),
      refusals: refusals.map(({ reason, subject, times, lastAt }) => ({ reason, subject, times, at: lastAt.getTime() })),
      faults: faults.map(({ entry, message, times, lastAt }) => ({ entry, message, times, at: lastAt.getTime() })),
      release: release?.number ?? null,
    };
  });
}
