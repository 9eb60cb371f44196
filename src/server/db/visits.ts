import type { RecordedPage } from '@/core/pages/recordedPages';
import { recordedPages } from '@/core/pages/recordedPages';
import type { Signal } from '@/core/moments/signal';
import type { Queryable } from './queryable';
import { many } from './queryable';
import type { ReadSide } from './readSide';
import { seldom } from './seldom';

export interface RecordedView {
  readonly id: string;
  readonly at: number;
  readonly url: string;
  readonly title: string | null;
  readonly leave: number;
  readonly scroll: number;
  readonly engagedMs: number;
  readonly signals: readonly Signal[];
}

export interface RecordedVisit {
  readonly id: string;
  readonly visitorId: number;
  readonly at: number;
  readonly channel: string;
  readonly device: string | null;
  readonly language: string | null;
  readonly city: string | null;
  readonly country: string | null;
  readonly isKnown: boolean;
  readonly views: readonly RecordedView[];
  readonly showings: readonly {
    readonly campaign: string;
    readonly name: string;
    readonly at: number;
    readonly outcomes: readonly string[];
  }[];
}

/**
 * Visits with their page views, signals and showings, newest first; `before` (UTC ms) pages on. What was reported with an event is left out: it may
 * say who somebody is, and nobody draws it.
 */
export async function listVisits(
  db: Queryable,
  siteId: number,
  { before, limit, visitorIds, visitIds }: { before?: number; limit: number; visitorIds?: readonly number[]; visitIds?: readonly string[] },
): Promise<RecordedVisit[]> {
  return many<RecordedVisit & Record<string, unknown>>(
    db,
    `select visit.id, visit.visitor_id as "visitorId", ms(visit.started_at)::float8 as at, visit.channel,
            visitor.device_category as device, visitor.language, visit.city, visit.country,
            (visitor.email is not null or visitor.customer_id is not null) as "isKnown",
            coalesce(v.views, '[]') as views, coalesce(w.showings, '[]') as showings
       from (select * from visit where site_id = $1 and ($2::float8 is null or started_at < at_ms($2)) and ($4::int[] is null or visitor_id = any($4)) and ($5::uuid[] is null or id = any($5))
              order by started_at desc, id limit $3) as visit
       join visitor on visitor.site_id = $1 and visitor.id = visit.visitor_id
       left join lateral (
         select json_agg(json_build_object('id', page_view.id, 'at', ms(at), 'url', url, 'title', title, 'leave', leave_ms, 'scroll', scroll,
                                           'engagedMs', engaged_ms, 'signals', coalesce(signals, '[]')) order by at, page_view.id) as views
           from page_view
           left join lateral (
             select json_agg(signal - 'props' order by piece, nth) as signals
               from signal_piece, jsonb_array_elements(signal_piece.signals) with ordinality as each (signal, nth)
              where signal_piece.site_id = $1 and signal_piece.view_id = page_view.id) as s on true
          where page_view.site_id = $1 and page_view.visit_id = visit.id) as v on true
       left join lateral (
         select json_agg(json_build_object('campaign', showing.campaign_id, 'name', coalesce(campaign.name, showing.campaign_id), 'at', ms(showing.at),
                         'outcomes', coalesce((select json_agg(kind) from outcome where outcome.site_id = $1 and showing_id = showing.id), '[]')) order by showing.at) as showings
           from showing left join campaign on campaign.site_id = $1 and campaign.id = showing.campaign_id
          where showing.site_id = $1 and showing.visitor_id = visit.visitor_id and showing.visit_id = visit.id and showing.shown) as w on true
      order by visit.started_at desc, visit.id`,
    [siteId, before ?? null, limit, visitorIds ?? null, visitIds ?? null],
  );
}

/** Some visits by their ids, read where `reading` says: the newest of them may not be there yet, and are then read where they were written. */
export async function listSomeVisits(reading: ReadSide, siteId: number, visitIds: readonly string[]): Promise<RecordedVisit[]> {
  if (visitIds.length === 0) return [];
  const list = (db: Queryable) => listVisits(db, siteId, { limit: visitIds.length, visitIds });
  const found = await reading.read(list);
  return found.length < visitIds.length && reading.hasReplica ? list(reading.primary) : found;
}

/** What the site has recorded in the last 30 days, most frequent first, to pick from instead of typing. */
export async function listRecordedPages(db: Queryable, siteId: number): Promise<{ path: string; views: number }[]> {
  return seldom(db, `pages ${siteId}`, () => countRecordedPages(db, siteId));
}

/** Of paths as they were asked for, and of the pages that they are. */
const [MOST_PATHS, MOST_PAGES] = [1000, 200];

const countRecordedPages = async (db: Queryable, siteId: number): Promise<RecordedPage[]> =>
  recordedPages(
    await many<RecordedPage & Record<string, unknown>>(
      db,
      `select path, count(*)::int as views
       from (select regexp_replace(split_part(split_part(url, '#', 1), '?', 1), '^https?://[^/]+', '') as path
               from page_view where site_id = $1 and at > now() - interval '30 days') as paths
      group by path order by count(*) desc, path limit ${MOST_PATHS}`,
      [siteId],
    ),
    MOST_PAGES,
  );

export const countVisits = (db: Queryable, siteId: number): ReturnType<typeof countAll> =>
  seldom(db, `visits ${siteId}`, () => countAll(db, siteId));

async function countAll(db: Queryable, siteId: number): Promise<{ visitors: number; visits: number; views: number }> {
  const [row] = await many<{ visitors: number; visits: number; views: number }>(
    db,
    `select (select count(*)::int from visitor where site_id = $1) as visitors, (select count(*)::int from visit where site_id = $1) as visits,
            (select count(*)::int from page_view where site_id = $1) as views`,
    [siteId],
  );
  return row ?? { visitors: 0, visits: 0, views: 0 };
}
