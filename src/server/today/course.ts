import type { UsualHour } from '@/core/results/usual';
import { runningTotals, usualCourse } from '@/core/results/usual';
import { dayIn } from '@/core/results/report';
import { QUARTER_MS } from '@/core/sealed/search';
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

/** Of the goal that the site is there for; null while it cannot be counted. */
export interface MainGoalCourse {
  readonly name: string;
  readonly course: Course | null;
}

const SOURCES: Readonly<Record<CourseName, string>> = {
  visits: `select started_at as at from visit where site_id = $1 and started_at >= $2`,
  shown: `select at from showing where site_id = $1 and shown and not unseen and at >= $2`,
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

/** The course of a goal: how often it is reached. `quarters` as the analysis tells them. */
export function courseOfGoal(
  quarters: readonly (readonly [quarter: number, times: number])[],
  { zone, now }: { zone: string; now: number },
): Course {
  const weeks = Array.from({ length: WEEKS + 1 }, () => new Array<number>(HOURS).fill(0));
  const noonOf = (at: number): number => Date.parse(`${dayIn(zone, at)}T12:00:00Z`);
  const today = noonOf(now);
  for (const [quarter, times] of quarters) {
    const at = quarter * QUARTER_MS;
    const days = Math.round((today - noonOf(at)) / DAY_MS);
    const counts = days >= 0 && days % 7 === 0 ? weeks[days / 7] : undefined;
    const hour = Math.floor(localTime(at, zone).minutes / 60);
    if (counts) counts[hour] = (counts[hour] ?? 0) + times;
  }
  return courseOf(weeks, { zone, now });
}

/** The same by day, the last `days` of them, those with nothing, too. */
export function reachedByDay(
  quarters: readonly (readonly [quarter: number, times: number])[],
  { zone, now, days }: { zone: string; now: number; days: number },
): { day: string; times: number }[] {
  const counts = new Map<string, number>();
  const noon = Date.parse(`${dayIn(zone, now)}T12:00:00Z`);
  for (let back = days - 1; back >= 0; back--) counts.set(new Date(noon - back * DAY_MS).toISOString().slice(0, 10), 0);
  for (const [quarter, times] of quarters) {
    const day = dayIn(zone, quarter * QUARTER_MS);
    const known = counts.get(day);
    if (known !== undefined) counts.set(day, known + times);
  }
  return [...counts].map(([day, times]) => ({ day, times }));
}

/** Since when (UTC ms) a course looks at what happened. */
export const courseSince = (now: number): number => now - (WEEKS * 7 + 1) * DAY_MS;

function courseOf(weeks: readonly (readonly number[])[], { zone, now }: { zone: string; now: number }): Course {
  const hour = Math.floor(localTime(now, zone).minutes / 60);
  return { today: runningTotals((weeks[0] ?? []).slice(0, hour + 1)), usual: usualCourse(weeks.slice(1)) ?? null };
}

async function loadCourse(db: Queryable, { siteId, zone, now, name }: Asked): Promise<Course> {
  const rows = await many<{ week: number; hour: number; times: number }>(
    db,
    `with here as (select (at_ms($4) at time zone $3)::date as today)
     select (today - (at at time zone $3)::date) / 7 as week, extract(hour from at at time zone $3)::int as hour, count(*)::int as times
       from (${SOURCES[name]}) as every, here
      where (today - (at at time zone $3)::date) % 7 = 0 and (at at time zone $3)::date <= today
      group by 1, 2`,
    [siteId, new Date(courseSince(now)), zone, now],
  );
  const weeks = Array.from({ length: WEEKS + 1 }, () => new Array<number>(HOURS).fill(0));
  for (const { week, hour, times } of rows) {
    const counts = weeks[week];
    if (counts) counts[hour] = times;
  }
  return courseOf(weeks, { zone, now });
}
