import type { DayPostings } from '@/core/counting/postings';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { numbers, offsetsOf } from './bytes';

interface Run {
  readonly day: number;
  /** The first row of the day's columns, and how many follow. */
  readonly row: number;
  readonly rows: number;
}

/**
 * The sealed days of a site with no more in them than the views of the pages wanted: the columns are stored uncompressed,
 * so the database reads just these stretches of them. Measures are left out (empty columns). Pages that follow one another
 * are read as one stretch.
 */
export async function sliceDays(
  db: Queryable,
  siteId: number,
  wanted: readonly boolean[],
  /** ISO days: from the first on, up to but not including the second. */
  { since = '-infinity', until = 'infinity' }: { since?: string; until?: string } = {},
): Promise<DayPostings[]> {
  const days = await many<{ day: string; pages: string }>(
    db,
    `select day::text as day, encode(pages, 'base64') as pages from sealed_day where site_id = $1 and day >= $2 and day < $3 order by day`,
    [siteId, since, until],
  );
  const plans = days.map(({ pages }) => planOf(numbers(pages), wanted));
  const runs = plans.flatMap((plan, day) => plan.runs.map((run): Run => ({ ...run, day })));
  const slices = await many<{ visitors: string; instants: string }>(
    db,
    `select encode(substring(visitors from run.row * 4 + 1 for run.rows * 4), 'base64') as visitors,
            encode(substring(instants from run.row * 4 + 1 for run.rows * 4), 'base64') as instants
       from unnest($2::date[], $3::int[], $4::int[]) with ordinality as run(day, row, rows, nth)
       join sealed_day on site_id = $1 and sealed_day.day = run.day order by nth`,
    [siteId, runs.map(({ day }) => days[day]?.day), runs.map(({ row }) => row), runs.map(({ rows }) => rows)],
  );
  return plans.map((plan, nth) => {
    const own = slices.filter((_, index) => runs[index]?.day === nth);
    return {
      dayStart: Date.parse(`${days[nth]?.day}T00:00:00Z`),
      pages: plan.pages,
      offsets: plan.offsets,
      visitors: numbers(...own.map(({ visitors }) => visitors)),
      instants: numbers(...own.map(({ instants }) => instants)),
      engaged: new Uint32Array(0),
      scrolls: new Uint8Array(0),
    };
  });
}

function planOf(pairs: Uint32Array, wanted: readonly boolean[]): { pages: Uint32Array; offsets: Uint32Array; runs: Omit<Run, 'day'>[] } {
  const kept: number[] = [];
  const runs: { row: number; rows: number }[] = [];
  let row = 0;
  for (let index = 0; index < pairs.length; index += 2) {
    const [page, rows] = [pairs[index] as number, pairs[index + 1] as number];
    if (wanted[page]) {
      kept.push(page, rows);
      const last = runs.at(-1);
      if (last && last.row + last.rows === row) last.rows += rows;
      else runs.push({ row, rows });
    }
    row += rows;
  }
  const ofKept = Uint32Array.from(kept);
  return { pages: ofKept.filter((_, index) => index % 2 === 0), offsets: offsetsOf(ofKept), runs };
}
