import type { Visitor, Outcome, Channel, Utm } from '@/core/history/visitor';
import type { Queryable } from './queryable';
import { many } from './queryable';

/** A visitor's whole history as the database has it, with the numbers the core does not need. */
export interface StoredVisitor {
  readonly id: number;
  readonly visitor: Visitor;
}

interface VisitorRow {
  [column: string]: unknown;
  id: number;
  email: string | null;
  customer_id: string | null;
  language: string | null;
  zone: string | null;
  device_category: 'desktop' | 'tablet' | 'phone' | null;
  device_os: string | null;
  device_browser: string | null;
  ad_blocker: boolean | null;
  country: string | null;
  region: string | null;
  city: string | null;
  team: boolean;
  score: number;
  visits: { id: string; at: number; channel: Channel; referrer: string | null; utm: Utm }[] | null;
  views:
    { visit: string; at: number; url: string; title: string | null; labels: string[] | null; engaged: number; scroll: number }[] | null;
  events: { visit: string; at: number; name: string; props: Record<string, unknown> }[] | null;
  responses: { campaign: string; outcome: Outcome; at: number }[] | null;
  changes: { kind: 'trait' | 'tag'; key: string; value: unknown }[] | null;
}

/** Histories of the visitors with these numbers, in one statement, by number. Unknown numbers are left out. */
export async function loadVisitors(db: Queryable, siteId: number, ids: readonly number[]): Promise<StoredVisitor[]> {
  const rows = await many<VisitorRow>(
    db,
    `select visitor.id, email, customer_id, language, zone, device_category, device_os, device_browser, ad_blocker,
            country, region, city, team, score, visits, views, events, responses, changes
       from visitor
       left join lateral (
         select json_agg(json_build_object('id', id, 'at', ms(started_at), 'channel', channel, 'referrer', referrer, 'utm', utm)
                         order by started_at, id) as visits
           from visit where site_id = $1 and visitor_id = visitor.id) as v on true
       left join lateral (
         select json_agg(json_build_object('visit', visit_id, 'at', ms(at), 'url', url, 'title', title, 'labels', labels,
                                           'engaged', engaged_ms / 1000.0, 'scroll', scroll) order by at, id) as views
           from page_view where site_id = $1 and visitor_id = visitor.id) as p on true
       left join lateral (
         select json_agg(json_build_object('visit', visit_id, 'at', ms(at), 'name', name, 'props', props) order by at, id) as events
           from event where site_id = $1 and visitor_id = visitor.id) as e on true
       left join lateral (
         select json_agg(json_build_object('campaign', campaign_id, 'outcome', kind, 'at', ms(at)) order by at) as responses
           from (select campaign_id, 'shown' as kind, at from showing where site_id = $1 and visitor_id = visitor.id and shown
                 union all
                 select campaign_id, outcome.kind, outcome.at from outcome
                   join showing on showing.site_id = $1 and showing.id = outcome.showing_id
                  where outcome.site_id = $1 and showing.visitor_id = visitor.id) as every) as r on true
       left join lateral (
         select json_agg(json_build_object('kind', kind, 'key', key, 'value', value) order by at, id) as changes
           from visitor_change where site_id = $1 and visitor_id = visitor.id and kind in ('trait', 'tag')) as c on true
      where site_id = $1 and visitor.id = any($2)
      order by visitor.id`,
    [siteId, ids],
  );
  return rows.map(visitorFromRow);
}

function visitorFromRow(row: VisitorRow): StoredVisitor {
  const traits: Record<string, unknown> = {};
  const tags = new Set<string>();
  for (const { kind, key, value } of row.changes ?? []) {
    if (kind === 'tag') {
      if (value === null) tags.delete(key);
      else tags.add(key);
    } else if (value === null) delete traits[key];
    else traits[key] = value;
  }
  const visits = new Map(
    (row.visits ?? []).map(({ id, at, channel, referrer, utm }) => [
      id,
      {
        at,
        source: { channel, utm, ...present({ referrer }) },
        views: [] as Visitor['visits'][0]['views'][0][],
        events: [] as Visitor['visits'][0]['events'][0][],
      },
    ]),
  );
  for (const { visit, at, url, title, labels, engaged, scroll } of row.views ?? []) {
    visits.get(visit)?.views.push({ at, url, engaged, scroll, ...present({ title, labels }) });
  }
  for (const { visit, at, name, props } of row.events ?? []) visits.get(visit)?.events.push({ at, name, props });
  const device = present({ category: row.device_category, os: row.device_os, browser: row.device_browser });
  const location = present({ country: row.country, region: row.region, city: row.city });
  return {
    id: row.id,
    visitor: {
      visits: [...visits.values()],
      known: row.email !== null || row.customer_id !== null,
      traits,
      tags: [...tags],
      score: row.score,
      responses: row.responses ?? [],
      team: row.team,
      ...(Object.keys(device).length ? { device } : {}),
      ...(Object.keys(location).length ? { location } : {}),
      ...present({ language: row.language, zone: row.zone, adBlocker: row.ad_blocker }),
    },
  };
}

/** Leaves out what is null, so that "not available" has one form in the core. */
function present<T extends Record<string, unknown>>(values: T): { [K in keyof T]?: NonNullable<T[K]> } {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) as { [K in keyof T]?: NonNullable<T[K]> };
}
