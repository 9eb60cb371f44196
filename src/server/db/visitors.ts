import { factColumns, factsFromRow } from '@/core/facts/facts';
import type { Change, RecordedVisit, VisitorRecord } from '@/core/history/record';
import type { Channel, Location, Outcome, Utm, Weather } from '@/core/history/visitor';
import type { Reads } from '@/core/people/reads';
import type { Signal } from '@/core/moments/signal';
import type { RecordedTimeline, RecordedVisitor } from '@/core/rehearsal/recorded';
import type { Queryable } from './queryable';
import { many } from './queryable';

/** A visitor's whole history as stored, with the ids of visits and page views beside it. */
export interface StoredVisitor {
  readonly id: number;
  readonly browser: string;
  readonly record: VisitorRecord;
  readonly visitIds: readonly string[];
  readonly viewIds: readonly (readonly string[])[];
}

const EVERYTHING: Reads = { views: true, events: true, profile: true, responses: true };

/** What the database has of a visit as such. */
export type VisitColumns = {
  readonly id: string;
  readonly at: number;
  readonly channel: Channel;
  readonly referrer: string | null;
  readonly utm: Utm;
  readonly weather: Weather | null;
} & { readonly [K in keyof Location]: Location[K] | null };

/** The visit without what happened in it. */
export function visitFromColumns(columns: VisitColumns): Omit<RecordedVisit, 'views' | 'events'> {
  const { at, channel, referrer, utm, weather, country, region, city, lat, lon, accuracy } = columns;
  const location = present({ country, region, city, lat, lon, accuracy }) as Location;
  return {
    at,
    source: { channel, utm, ...present({ referrer }) },
    ...(location.country ? { location } : {}),
    ...(weather ? { weather } : {}),
  };
}

/** What is known of a visitor as such, as it is stored. */
export const FACT_COLUMNS = factColumns()
  .map(({ name }) => name)
  .join(', ');

interface VisitorRow {
  [column: string]: unknown;
  id: number;
  browser_id: string;
  visits: VisitColumns[] | null;
  views:
    | {
        id: string;
        visit: string;
        at: number;
        url: string;
        title: string | null;
        labels: string[] | null;
        engaged: number;
        scroll: number;
      }[]
    | null;
  events: { visit: string; at: number; name: string; props: Record<string, unknown> }[] | null;
  responses: { campaign: string; outcome: Outcome; at: number }[] | null;
  changes: Change[] | null;
}

/**
 * Histories of the visitors with these numbers, in one statement, by number. Unknown numbers are left out; so is what is not wanted, and all
 * but the newest `most` visits, page views and events of each. Of page views that are not wanted the newest is there all the same where `most`
 * is given: it says when they were last here.
 */
export async function loadVisitors(
  db: Queryable,
  siteId: number,
  ids: readonly number[],
  { withViews = true, most, reads = EVERYTHING }: { withViews?: boolean; most?: number; reads?: Reads } = {},
): Promise<StoredVisitor[]> {
  const rows = await many<VisitorRow>(
    db,
    `select visitor.id, browser_id, ${FACT_COLUMNS},
            visits, views, events, responses, changes
       from visitor
       left join lateral (
         select json_agg(json_build_object('id', id, 'at', ms(started_at), 'channel', channel, 'referrer', referrer, 'utm', utm, 'country', country,
                         'region', region, 'city', city, 'lat', lat, 'lon', lon, 'accuracy', accuracy, 'weather', weather) order by started_at, id) as visits
           from (select * from visit where site_id = $1 and visitor_id = visitor.id order by started_at desc limit $5) as visit) as v on true
       left join lateral (
         select json_agg(json_build_object('id', id, 'visit', visit_id, 'at', ms(at), 'url', url, 'title', title, 'labels', labels,
                                           'engaged', engaged_ms / 1000.0, 'scroll', scroll) order by at, id) as views
           from (select * from page_view where site_id = $1 and visitor_id = visitor.id and $3 order by at desc limit $4) as page_view) as p on true
       left join lateral (
         select json_agg(json_build_object('visit', visit_id, 'at', ms(at), 'name', name, 'props', props) order by at, id) as events
           from (select * from event where site_id = $1 and visitor_id = visitor.id and $6 order by at desc limit $5) as event) as e on true
       left join lateral (
         select json_agg(json_build_object('campaign', campaign_id, 'outcome', kind, 'at', ms(at)) order by at) as responses
           from (select campaign_id, 'shown' as kind, at from showing where site_id = $1 and visitor_id = visitor.id and shown and $7
                 union all
                 select campaign_id, outcome.kind, outcome.at from outcome
                   join showing on showing.site_id = $1 and showing.id = outcome.showing_id
                  where outcome.site_id = $1 and showing.visitor_id = visitor.id and $7) as every) as r on true
       left join lateral (
         select json_agg(json_build_object('at', ms(at), 'kind', kind, 'key', key, 'value', value) order by at, id) as changes
           from visitor_change where site_id = $1 and visitor_id = visitor.id and $8) as c on true
      where site_id = $1 and visitor.id = any($2)
      order by visitor.id`,
    [
      siteId,
      ids,
      withViews,
      reads.views || most === undefined ? (most ?? null) : 1,
      most ?? null,
      reads.events,
      reads.responses,
      reads.profile,
    ],
  );
  return rows.map(visitorFromRow);
}

function visitorFromRow(row: VisitorRow): StoredVisitor {
  const visits = (row.visits ?? []).map((columns) => ({
    id: columns.id,
    ...visitFromColumns(columns),
    views: [] as VisitorRecord['visits'][0]['views'][0][],
    viewIds: [] as string[],
    events: [] as VisitorRecord['visits'][0]['events'][0][],
  }));
  const byId = new Map(visits.map((visit) => [visit.id, visit]));
  for (const { id, visit, at, url, title, labels, engaged, scroll } of row.views ?? []) {
    byId.get(visit)?.views.push({ at, url, engaged, scroll, ...present({ title, labels }) });
    byId.get(visit)?.viewIds.push(id);
  }
  for (const { visit, at, name, props } of row.events ?? []) byId.get(visit)?.events.push({ at, name, props });
  return {
    id: row.id,
    browser: row.browser_id,
    visitIds: visits.map(({ id }) => id),
    viewIds: visits.map(({ viewIds }) => viewIds),
    record: {
      visits: visits.map(({ id: _id, viewIds: _viewIds, ...visit }) => visit),
      changes: row.changes ?? [],
      responses: row.responses ?? [],
      ...factsFromRow(row),
    },
  };
}

interface TimelineRow {
  [column: string]: unknown;
  id: string;
  leave_ms: number;
  hidden: boolean;
  cannot_scroll: boolean | null;
  watched: string[];
  /** One list for each piece. */
  signals: Signal[][] | null;
}

/** What was recorded of the page views of these visitors' visits that began at `since` (UTC ms) or later. */
export async function withTimelines(
  db: Queryable,
  siteId: number,
  visitors: readonly StoredVisitor[],
  since: number,
): Promise<RecordedVisitor[]> {
  const rows = await many<TimelineRow>(
    db,
    `select page_view.id, leave_ms, hidden, cannot_scroll, watched, signals
       from page_view
       left join lateral (
         select json_agg(signal_piece.signals order by piece) as signals
           from signal_piece where signal_piece.site_id = $1 and signal_piece.view_id = page_view.id) as s on true
      where site_id = $1 and visitor_id = any($2) and at >= at_ms($3)`,
    [siteId, visitors.map(({ id }) => id), since],
  );
  const byView = new Map(rows.map((row) => [row.id, timelineFromRow(row)]));
  const empty: RecordedTimeline = { signals: [], leave: 0 };
  return visitors.map(({ id, record, visitIds, viewIds }) => ({
    id,
    record,
    visitIds,
    viewIds,
    timelines: viewIds.map((views, visit) =>
      (record.visits[visit]?.at ?? 0) >= since ? views.map((view) => byView.get(view) ?? empty) : undefined,
    ),
  }));
}

export function timelineFromRow({
  leave_ms,
  hidden,
  cannot_scroll,
  watched,
  signals,
}: Pick<TimelineRow, 'leave_ms' | 'hidden' | 'cannot_scroll' | 'watched' | 'signals'>): RecordedTimeline {
  const ordered = (signals ?? []).flat().sort((a, b) => a.t - b.t);
  return { signals: ordered, leave: leave_ms, ...(hidden ? { hidden } : {}), ...(cannot_scroll ? { cannotScroll: true } : {}), watched };
}

/** All visitors of a site with at least one visit since then, in chunks. */
export async function* eachChunk(
  db: Queryable,
  siteId: number,
  { since = 0, size = 1000, withViews = true }: { since?: number; size?: number; withViews?: boolean } = {},
): AsyncGenerator<StoredVisitor[]> {
  const rows = await many<{ id: number }>(db, `select id from visitor where site_id = $1 and last_seen >= at_ms($2) order by id`, [
    siteId,
    since,
  ]);
  for (let from = 0; from < rows.length; from += size) {
    const ids = rows.slice(from, from + size).map(({ id }) => id);
    yield loadVisitors(db, siteId, ids, { withViews });
  }
}

/** Leaves out what is null, so that "not available" has one form in the core. */
export function present<T extends Record<string, unknown>>(values: T): { [K in keyof T]?: NonNullable<T[K]> } {
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) as { [K in keyof T]?: NonNullable<T[K]> };
}
