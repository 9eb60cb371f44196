import { reachesGoal } from '@/core/campaigns/goals';
import type { Release } from '@/core/release/release';
import type { Item } from '@/core/wire/items';
import { convertLastShowing } from '../db/outcomes';
import type { Queryable } from '../db/queryable';

/** Counts the conversions that a page reached or an event brings: the campaign's last showing to this visitor, within the goal's days. */
export async function recordGoals(
  db: Queryable,
  {
    siteId,
    visitorId,
    item,
    at,
    release,
  }: {
    siteId: number;
    visitorId: number | undefined;
    item: Extract<Item, { kind: 'open' | 'event' }>;
    /** Of the item, UTC ms. */
    at: number;
    release: Release | undefined;
  },
): Promise<void> {
  if (visitorId === undefined) return;
  for (const { id, goal } of release?.campaigns ?? []) {
    if (goal.kind === 'form' || goal.kind === 'reply' || !reachesGoal(goal, item, at)) continue;
    await convertLastShowing(db, siteId, { visitorId, campaign: id, at, days: goal.days });
  }
}
