import { visitorAt } from '@/core/history/record';
import { conditionHolds } from '@/core/people/condition';
import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import type { Told } from '@/core/wire/items';
import type { CurrentRelease } from '../db/releases';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { loadVisitors } from '../db/visitors';

/** What the page must know to decide: the release, the facts over the history on record by now, and what was shown before. */
export async function tell(
  db: Queryable,
  { siteId, visitorId, current, now }: { siteId: number; visitorId: number; current: CurrentRelease | undefined; now: number },
): Promise<Told> {
  if (!current) return { release: null, facts: [], pacing: { campaigns: {} } };
  const record = current.facts.length ? (await loadVisitors(db, siteId, [visitorId]))[0]?.record : undefined;
  // A clock that is a little ahead must not hide the very page view that asks.
  const judgedAt = Math.max(now, record?.visits.at(-1)?.views.at(-1)?.at ?? 0);
  const visitor = record && visitorAt(record, judgedAt);
  const { sets, places } = current;
  const facts = current.facts.map((condition) =>
    visitor ? conditionHolds(condition, { visitor, now: judgedAt, lookback: LONGEST_LOOKBACK_DAYS, sets, places, segments: {} }) : null,
  );
  return { release: { number: current.number, hash: current.hash }, facts, pacing: await loadPacing(db, siteId, visitorId) };
}

async function loadPacing(db: Queryable, siteId: number, visitorId: number): Promise<Told['pacing']> {
  const rows = await many<{ campaign: string; lastAt: string; shown: number; dismissed: number; converted: number }>(
    db,
    `select campaign_id as campaign, ms(max(showing.at)) as "lastAt", count(distinct showing.id)::int as shown,
            count(*) filter (where kind = 'dismissed')::int as dismissed, count(*) filter (where kind = 'converted')::int as converted
       from showing left join outcome on outcome.site_id = $1 and outcome.showing_id = showing.id
      where showing.site_id = $1 and visitor_id = $2 group by campaign_id`,
    [siteId, visitorId],
  );
  const campaigns = Object.fromEntries(rows.map(({ campaign, lastAt, ...counts }) => [campaign, { ...counts, lastAt: Number(lastAt) }]));
  const latest = Math.max(...rows.map(({ lastAt }) => Number(lastAt)));
  return { campaigns, ...(rows.length ? { lastAt: latest } : {}) };
}
