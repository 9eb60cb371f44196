import { reachesGoal } from '@/core/campaigns/goals';
import type { Release } from '@/core/release/release';
import type { ServerEvent } from '@/core/wire/serverEvents';
import { convertLastShowing } from '../db/outcomes';
import type { Queryable } from '../db/queryable';
import { maybeOne } from '../db/queryable';
import { mayBy } from '../db/saying';
import { idFrom } from './idFrom';

export type EventAnswer =
  { readonly ok: true; readonly isNew: boolean } | { readonly ok: false; readonly code: string; readonly message: string };

/** An event ahead of the clock by more than this is none that has happened. */
const AHEAD_MS = 5 * 60_000;

/**
 * Writes one event to the last visit that its visitor began before it: of several with one email or customer id
 * the one who was there last, of those whose signature says so before those who claim it. The same id
 * again changes nothing. What campaigns count as success is counted as for events of the page. `now`: UTC ms. In a transaction.
 */
export async function importEvent(
  tx: Queryable,
  siteId: number,
  given: ServerEvent,
  { release, now }: { release: Release | undefined; now: number },
): Promise<EventAnswer> {
  const { id, email, customer, browser, event: name, props, at } = given;
  if (at > now + AHEAD_MS)
    return { ok: false, code: 'event.ahead', message: `at: met ${new Date(at).toISOString()}, expected an instant that has been` };
  const visit = await maybeOne<{ visit: string; view: string; visitor: number }>(
    tx,
    `select visit.id as visit, visitor.id as visitor,
            (select page_view.id from page_view where page_view.site_id = $1 and page_view.visit_id = visit.id and at <= at_ms($5) order by at desc limit 1) as view
       from visitor join visit on visit.site_id = $1 and visit.visitor_id = visitor.id and started_at <= at_ms($5)
      where visitor.site_id = $1 and (lower(visitor.email) = lower($2) or customer_id = $3 or browser_id = $4::uuid)
      order by case when lower(visitor.email) = lower($2) then ${mayBy('read', 'email')} when customer_id = $3 then ${mayBy('read', 'customer')} else true end desc, started_at desc limit 1`,
    [siteId, email ?? null, customer ?? null, browser ?? null, at],
  );
  if (!visit)
    return {
      ok: false,
      code: 'visitor.unknown',
      message: `${email ? 'email' : customer ? 'customer' : 'browser'}: nobody of that name visited the site before it`,
    };
  const { rowCount } = await tx.query(
    `insert into event (site_id, id, visit_id, view_id, visitor_id, at, name, props) values ($1, $2, $3, $4, $5, at_ms($6), $7, $8)
     on conflict (site_id, id) do nothing`,
    [siteId, idFrom(siteId, id, 'server event'), visit.visit, visit.view ?? visit.visit, visit.visitor, at, name, props ?? {}],
  );
  if (!rowCount) return { ok: true, isNew: false };
  await tx.query(`update visitor set touched_at = clock_timestamp() where site_id = $1 and id = $2`, [siteId, visit.visitor]);
  for (const campaign of release?.campaigns ?? []) {
    const { goal } = campaign;
    if (goal.kind !== 'event' || !reachesGoal(goal, { kind: 'event', name, props }, at)) continue;
    await convertLastShowing(tx, siteId, { visitorId: visit.visitor, campaign: campaign.id, at, days: goal.days });
  }
  return { ok: true, isNew: true };
}
