import { reachesGoal } from '@/core/campaigns/goals';
import type { Release } from '@/core/release/release';
import type { Item } from '@/core/wire/items';
import type { Queryable } from '../db/queryable';

/** Counts the conversions that a page reached or an event brings: the campaign's last showing to this visitor, within the goal's days. */
export async function recordGoals(
  db: Queryable,
  {
    siteId,
    visitorId,
    item,
    skew,
    release,
  }: {
    siteId: number;
    visitorId: number | undefined;
    item: Item;
    skew: number;
    release: Release | undefined;
  },
): Promise<void> {
  if (visitorId === undefined || (item.kind !== 'open' && item.kind !== 'event')) return;
  for (const { id, goal } of release?.campaigns ?? []) {
    if (goal.kind === 'form' || !reachesGoal(goal, item)) continue;
    await db.query(
      `insert into outcome (site_id, showing_id, kind, at)
       select $1, id, 'converted', at_ms($4) from showing
        where site_id = $1 and visitor_id = $2 and campaign_id = $3 and at <= at_ms($4) and at > at_ms($4) - make_interval(secs => $5 * 86400)
        order by at desc limit 1
       on conflict (site_id, showing_id, kind) do nothing`,
      [siteId, visitorId, id, item.at + skew, goal.days],
    );
  }
}
