import type { UsualHour } from '@/core/results/usual';
import { runningTotals, usualCourse } from '@/core/results/usual';
import { localTime } from '@/core/time/localTime';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { DAY_MS } from '@/core/time/day';

const WEEKS = 4;
const HOURS = 24;

export const COURSES = ['visits', 'shown', 'converted'] as const;
export type CourseName = (typeof COURSES)[number];

/** Running totals by hour of today so far, and what they usually are on this day of the week. */
export interface Course {
  readonly today: readonly number[];
  readonly usual: readonly UsualHour[] | null;
}

const SOURCES: Readonly<Record<CourseName, string>> = {
  visits: `select started_at as at from visit where site_id = $1 and started_at >= $2`,
  shown: `select at from showing where site_id = $1 and shown and at >= $2`,
  converted: `select at from outcome where site_id = $1 and kind = 'converted' and at >= $2`,
};

/** The day of `now` (UTC ms) in a time zone, up to its hour, beside the same weekday of the last four weeks. */
export async function loadCourses(
  db: Queryable,
  siteId: number,
  { zone, now }: { zone: string; now: number },
): Promise<Record<CourseName, Course>> {
  const entries = await Promise.all(COURSES.map(async (name) => [name, await loadCourse(db, { siteId, zone, now, name })] as const));
  return Object.fromEntries(entries) as Record<CourseName, Course>;
}

interface Asked {
  readonly siteId: number;
  readonly zone: string;
  readonly now: number;
  readonly name: CourseName;
}

async function loadCourse(db: Queryable, { siteId, zone, now, name }: Asked): Promise<Course> {
  const rows = await many<{ week: number; hour: number; times: number }>(
    db,
    `with here as (select (at_ms($4) at time zone $3)::date as today)
     select (today - (at at time zone $3)::date) / 7 as week, extract(hour from at at time zone $3)::int as hour, count(*)::int as times
       from (${SOURCES[name]}) as every, here
      where (today - (at at time zone $3)::date) % 7 = 0 and (at at time zone $3)::date <= today
      group by 1, 2`,
    [siteId, new Date(now - (WEEKS * 7 + 1) * DAY_MS), zone, now],
  );
  const weeks = Array.from({ length: WEEKS + 1 }, () => new Array<number>(HOURS).fill(0));
  for (const { week, hour, times } of rows) {
    const counts = weeks[week];
    if (counts) counts[hour] = times;
  }
  const hour = Math.floor(localTime(now, zone).minutes / 60);
  return { today: runningTotals((weeks[0] ?? []).slice(0, hour + 1)), usual: usualCourse(weeks.slice(1)) ?? null };
}
