import type { Change } from '@/core/history/record';
import type { Outcome } from '@/core/history/visitor';
import type { RecordedTimeline } from '@/core/rehearsal/recorded';
import type { Response, Slice } from '@/core/sealed/slice';
import { DAY_MS } from '@/core/time/day';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import type { VisitColumns } from '../db/visitors';
import { present, timelineFromRow, visitFromColumns } from '../db/visitors';

interface ViewRow {
  [column: string]: unknown;
  id: string;
  visit: string;
  at: number;
  url: string;
  title: string | null;
  labels: string[] | null;
  engaged_ms: number;
  scroll: number;
  leave_ms: number;
  hidden: boolean;
  cannot_scroll: boolean | null;
  watched: string[];
  signals: Parameters<typeof timelineFromRow>[0]['signals'];
}

interface Building {
  readonly visitor: number;
  readonly visits: {
    readonly id: string;
    readonly visit: Slice['visits'][number]['visit'] & { views: Slice['visits'][number]['visit']['views'][number][] };
    readonly timelines: RecordedTimeline[];
  }[];
  readonly changes: Change[];
  readonly responses: Response[];
}

/** What the raw rows hold of a day (UTC ms of its beginning), of everybody or of some visitors: by visitor number. */
export async function loadSlices(db: Queryable, siteId: number, dayStart: number, visitors?: readonly number[]): Promise<Slice[]> {
  const values = [siteId, dayStart, dayStart + DAY_MS, visitors ?? null];
  const began = `visit.site_id = $1 and started_at >= at_ms($2) and started_at < at_ms($3) and ($4::int[] is null or visit.visitor_id = any($4))`;
  const within = `site_id = $1 and at >= at_ms($2) and at < at_ms($3)`;
  const visitRows = await many<VisitColumns & { visitor: number }>(
    db,
    `select id, visitor_id as visitor, ms(started_at)::float8 as at, channel, referrer, utm, country, region, city, lat, lon, accuracy, weather
       from visit where ${began} order by visitor_id, started_at, id`,
    values,
  );
  const viewRows = await many<ViewRow>(
    db,
    `select page_view.id, page_view.visit_id as visit, ms(at)::float8 as at, url, title, labels, page_view.engaged_ms, scroll, leave_ms, hidden, cannot_scroll, watched, signals
       from visit
      -- One look into the index for each visit, however many rows there are of other days.
      cross join lateral (
         select * from page_view where page_view.site_id = $1 and page_view.visit_id = visit.id and page_view.visitor_id = visit.visitor_id offset 0) as page_view
       left join lateral (
         select json_agg(signal_piece.signals order by piece) as signals
           from signal_piece where signal_piece.site_id = $1 and signal_piece.view_id = page_view.id) as s on true
      where ${began}`,
    values,
  );
  const eventRows = await many<{ visit: string; at: number; name: string; props: Record<string, unknown> }>(
    db,
    `select event.visit_id as visit, ms(at)::float8 as at, name, props
       from visit
      cross join lateral (
         select * from event where event.site_id = $1 and event.visit_id = visit.id and event.visitor_id = visit.visitor_id offset 0) as event
      where ${began} order by at, event.id`,
    values,
  );
  const changeRows = await many<Change & { visitor: number } & Record<string, unknown>>(
    db,
    `select visitor_id as visitor, ms(at)::float8 as at, kind, key, value from visitor_change
      where ${within} and ($4::int[] is null or visitor_id = any($4)) order by visitor_change.at, id`,
    values,
  );
  const responseRows = await many<{ visitor: number; at: number; campaign: string; outcome: Outcome }>(
    db,
    `select visitor, ms(at)::float8 as at, campaign, outcome from (
       select visitor_id as visitor, at, campaign_id as campaign, 'shown' as outcome from showing where ${within} and shown
       union all
       select visitor_id, outcome.at, campaign_id, outcome.kind from outcome join showing on showing.site_id = $1 and showing.id = outcome.showing_id
        where outcome.site_id = $1 and outcome.at >= at_ms($2) and outcome.at < at_ms($3)) as every
      where $4::int[] is null or visitor = any($4) order by every.at`,
    values,
  );

  const slices = new Map<number, Building>();
  const of = (visitor: number): Building => {
    const slice = slices.get(visitor) ?? { visitor, visits: [], changes: [], responses: [] };
    slices.set(visitor, slice);
    return slice;
  };
  const byId = new Map<string, Building['visits'][number]>();
  for (const { visitor, ...columns } of visitRows) {
    const visit = { ...visitFromColumns(columns), views: [], events: [] as { at: number; name: string; props: Record<string, unknown> }[] };
    const made = { id: columns.id, visit, timelines: [] };
    of(visitor).visits.push(made);
    byId.set(columns.id, made);
  }
  // Sorted here: a day's rows with their signals would be more than the database sorts in memory.
  viewRows.sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1));
  for (const { visit, at, url, title, labels, engaged_ms, scroll, ...played } of viewRows) {
    const made = byId.get(visit);
    made?.visit.views.push({ at, url, engaged: engaged_ms / 1000, scroll, ...present({ title, labels }) });
    made?.timelines.push(timelineFromRow(played));
  }
  for (const { visit, at, name, props } of eventRows) (byId.get(visit)?.visit.events as unknown[] | undefined)?.push({ at, name, props });
  for (const { visitor, at, kind, key, value } of changeRows) of(visitor).changes.push({ at, kind, key, value });
  for (const { visitor, at, campaign, outcome } of responseRows) of(visitor).responses.push({ at, campaign, outcome });
  return [...slices.values()].sort((a, b) => a.visitor - b.visitor);
}
