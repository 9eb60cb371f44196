import type { CameRow, MetRow } from '@/core/sealed/resultsDay';
import { DAY_MS } from '@/core/time/day';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';

/** What the raw rows hold of a day (UTC ms of its beginning) for results: what was asked for is left out, as it is no part of them. */
export async function loadResultRows(db: Queryable, siteId: number, dayStart: number): Promise<{ met: MetRow[]; came: CameRow[] }> {
  const values = [siteId, dayStart, dayStart + DAY_MS];
  const met = await many<Omit<MetRow, 'page'> & { readonly url: string | null } & Record<string, unknown>>(
    db,
    `select showing.visitor_id as visitor, ms(showing.at)::float8 as at, campaign_id as campaign, case when shown then variant end as variant, shown, shown and unseen as unseen, release,
            coalesce(ms(visit.started_at), ms(showing.at))::float8 as "visitAt", visit.channel, visit.country, page_view.url,
            coalesce(visitor.first_seen < visit.started_at, false) as returning
       from showing
      -- One look into each index for each of them, however many rows there are of other days.
      cross join lateral (select first_seen from visitor where visitor.site_id = $1 and visitor.id = showing.visitor_id offset 0) as visitor
       left join lateral (select started_at, channel, country from visit where visit.site_id = $1 and visit.id = showing.visit_id offset 0) as visit on true
       left join lateral (select url from page_view where page_view.site_id = $1 and page_view.id = showing.view_id limit 1) as page_view on true
      where showing.site_id = $1 and showing.at >= at_ms($2) and showing.at < at_ms($3) and not opened order by showing.at, showing.id`,
    values,
  );
  const came = await many<CameRow & Record<string, unknown>>(
    db,
    `select visitor, ms(at)::float8 as at, campaign, did, how, standing from (
       select visitor_id as visitor, outcome.at, campaign_id as campaign, kind as did, how, false as standing
         from outcome join showing on showing.site_id = $1 and showing.id = outcome.showing_id
        where outcome.site_id = $1 and outcome.at >= at_ms($2) and outcome.at < at_ms($3) and kind in ('clicked', 'dismissed', 'replied') and not opened
       union all
       select sent.visitor_id, sent.at, sent.campaign_id, 'lead', null, coalesce(not showing.opened and showing.campaign_id = sent.campaign_id, false)
         from form_sent as sent left join showing on showing.site_id = $1 and showing.id = sent.showing_id
        where sent.site_id = $1 and sent.at >= at_ms($2) and sent.at < at_ms($3) and sent.visitor_id is not null) as every
      order by every.at`,
    values,
  );
  return { met: met.map(({ url, ...row }) => ({ ...row, page: pathOf(url) })), came };
}

const pathOf = (url: string | null): string | null => (url && URL.canParse(url) ? new URL(url).pathname : null);
