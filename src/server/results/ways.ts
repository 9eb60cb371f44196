import type { WayTaken } from '@/core/results/ways';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';

/** Ways in different orders beyond so many are somebody going round in circles. */
const MOST_WAYS = 2000;

/** Which ways the showings of a campaign from `from` to `to` (UTC ms) went; of the team none. The most taken first. */
export const loadWays = (
  db: Queryable,
  siteId: number,
  { campaign, from, to }: { campaign: string; from: number; to: number },
): Promise<WayTaken[]> =>
  many<WayTaken & Record<string, unknown>>(
    db,
    `with seen as (
       select id, variant from showing
        where site_id = $1 and campaign_id = $2 and at >= at_ms($3) and at < at_ms($4) and shown and not opened
          and not exists (select from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id and team)),
     steps as (
       select showing_id, array_agg(message order by flow_step.at) as path from flow_step join seen on seen.id = showing_id
        where site_id = $1 group by 1),
     written as (select distinct showing_id from form_sent where site_id = $1 and campaign_id = $2),
     answers as (
       select showing_id, bool_or(kind = 'replied') as replied, bool_or(kind = 'dismissed') as dismissed, bool_or(kind = 'clicked') as clicked
         from outcome join seen on seen.id = showing_id where site_id = $1 group by 1)
     select variant, coalesce(path, '{}') as path,
            case when written.showing_id is not null or replied then 'sent' when dismissed then 'dismissed' when clicked then 'pressed' else 'left' end as ending,
            count(*)::int as showings
       from seen left join steps on steps.showing_id = seen.id left join written on written.showing_id = seen.id left join answers on answers.showing_id = seen.id
      group by 1, 2, 3 order by 4 desc, 2, 3 limit ${MOST_WAYS}`,
    [siteId, campaign, from, to],
  );
