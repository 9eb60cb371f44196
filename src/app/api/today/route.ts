import { answer, queryAs } from '@/server/http/api';
import { poolOf, readingOf } from '@/server/db/sharedPool';
import { todaySchema } from '@/server/http/requests';
import { listAttention } from '@/server/today/attention';
import type { MainGoalCourse } from '@/server/today/course';
import { courseOfGoal, courseSince, loadCourses } from '@/server/today/course';
import { analyse, AnalysisAway } from '@/server/analysis/analyse';
import { findMainGoal } from '@/server/db/goals';

/** Today's course beside the usual one, and what needs attention. `zone` is the time zone in which today is today. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { zone } = queryAs(request, todaySchema);
    const now = Date.now();
    const [courses, goal, attention] = await Promise.all([
      loadCourses(poolOf(siteId), siteId, { zone, now }),
      mainGoalCourse(siteId, { zone, now }),
      listAttention(poolOf(siteId), siteId, { now, replica: await (await readingOf(siteId)).state() }),
    ]);
    return { courses, goal, attention };
  });
}

/** What the site is there for; without a course while what counts it is away. */
async function mainGoalCourse(siteId: number, { zone, now }: { zone: string; now: number }): Promise<MainGoalCourse | null> {
  const main = await findMainGoal(poolOf(siteId), siteId);
  if (!main) return null;
  const { name, goal } = main;
  try {
    const { quarters } = await analyse({ kind: 'reached', site: siteId, goal, since: courseSince(now), now });
    return { name, course: courseOfGoal(quarters, { zone, now }) };
  } catch (cause) {
    if (cause instanceof AnalysisAway) return { name, course: null };
    throw cause;
  }
}
