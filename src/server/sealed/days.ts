import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';

/** A day (UTC ms of its beginning) on which something of a site is on record. */
export interface RecordedDay {
  readonly dayStart: number;
  /** When it was sealed, as the database writes the instant: another one is another content. Undefined where it is not. */
  readonly sealed: string | undefined;
  /** When the first of what came since was noted, UTC ms; undefined where it is as it was sealed. */
  readonly lateSince: number | undefined;
  /** Sealed with what results read: what was sealed before there was that is not. */
  readonly isWhole: boolean;
}

/** All days of a site with something on record, oldest first: a few looks into indexes a day. */
export async function recordedDays(db: Queryable, siteId: number): Promise<RecordedDay[]> {
  const next = (from: string): string => `least(
    (select min(started_at) from visit where site_id = $1 and started_at >= ${from}),
    (select min(at) from visitor_change where site_id = $1 and at >= ${from}),
    (select min(at) from showing where site_id = $1 and at >= ${from}),
    (select min(at) from outcome where site_id = $1 and at >= ${from}))`;
  const rows = await many<{ day: string; sealed: string | null; late: number | null; whole: boolean | null }>(
    db,
    `with recursive met (at) as (
       select ${next(`'-infinity'::timestamptz`)}
       union all
       select ${next(`((met.at at time zone 'UTC')::date + 1)::timestamp at time zone 'UTC'`)} from met where met.at is not null)
     select (met.at at time zone 'UTC')::date::text as day, sealed_at::text as sealed, results is not null as whole,
            (select ms(min(at))::float8 from late_day where late_day.site_id = $1 and late_day.day = (met.at at time zone 'UTC')::date) as late
       from met left join sealed_visits on sealed_visits.site_id = $1 and sealed_visits.day = (met.at at time zone 'UTC')::date
      where met.at is not null order by met.at`,
    [siteId],
  );
  return rows.map(({ day, sealed, late, whole }) => ({
    dayStart: Date.parse(`${day}T00:00:00Z`),
    sealed: sealed ?? undefined,
    lateSince: late ?? undefined,
    isWhole: whole === true,
  }));
}

export const isoDay = (dayStart: number): string => new Date(dayStart).toISOString().slice(0, 10);
