import type { Queryable } from './queryable';
import { many, maybeOne } from './queryable';

export interface TeamBrowser {
  readonly id: number;
  readonly device: string | null;
  readonly lastAt: Date;
  readonly visits: number;
}

/**
 * Says that a browser is one of the team's, or is not; without `is` only asks. `isKnown` is false where that browser was never recorded: there is
 * nobody to say it of.
 */
export async function setTeam(
  db: Queryable,
  siteId: number,
  { browser, is }: { browser: string; is?: boolean | undefined },
): Promise<{ isKnown: boolean; isOurs: boolean }> {
  const row = await maybeOne<{ team: boolean }>(
    db,
    is === undefined
      ? `select team from visitor where site_id = $1 and browser_id = $2`
      : `update visitor set team = $3, touched_at = now() where site_id = $1 and browser_id = $2 returning team`,
    is === undefined ? [siteId, browser] : [siteId, browser, is],
  );
  return { isKnown: row !== undefined, isOurs: row?.team ?? false };
}

/** Those that are; who was said to be one last, or was last here, first. */
export async function listTeam(db: Queryable, siteId: number): Promise<TeamBrowser[]> {
  return many<TeamBrowser & Record<string, unknown>>(
    db,
    `select id, concat_ws(', ', device_category, device_browser, device_os) as device, last_seen as "lastAt",
            (select count(*)::int from visit where visit.site_id = $1 and visitor_id = visitor.id) as visits
       from visitor where site_id = $1 and team order by touched_at desc limit 200`,
    [siteId],
  );
}

/** False where nobody has that number. */
export async function leaveTeam(db: Queryable, siteId: number, id: number): Promise<boolean> {
  return (
    (await maybeOne(db, `update visitor set team = false, touched_at = now() where site_id = $1 and id = $2 and team returning id`, [
      siteId,
      id,
    ])) !== undefined
  );
}
