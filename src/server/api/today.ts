import { analyse, AnalysisAway } from '../analysis/analyse';
import { findMainGoal } from '../db/goals';
import { isUnavailable } from '../db/queryable';
import { poolOf, readingOf } from '../db/sharedPool';
import { todaySchema } from '../http/requests';
import { listAttention } from '../today/attention';
import { courseOfGoal, courseSince, loadCourses } from '../today/course';
import type { MainGoalCourse } from '../today/course';
import { LiveSites } from '../today/live';
import { endpoint, events } from './endpoint';

const shared = globalThis as typeof globalThis & { crindleLive?: LiveSites };

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

export const todayEndpoints = [
  events({
    path: '/api/live',
    right: 'look',
    says: 'Who is on the site and what happens there',
    answers: 'Events `news` (what changed, every two seconds) and `trouble`',
    run: ({ member: { siteId } }, say) => {
      shared.crindleLive ??= new LiveSites(poolOf, { clock: Date.now });
      return shared.crindleLive.listen(siteId, {
        onNews: (news) => say('news', news),
        onTrouble: (cause) => {
          console.error(cause);
          const why = isUnavailable(cause) ? 'The database cannot be reached' : 'Something went wrong on our side';
          say('trouble', { message: `${why}; what you see stands still until it is tried again.` });
        },
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/today',
    right: 'look',
    says: 'Today beside a usual day, and what needs attention',
    query: todaySchema,
    answers: 'Running totals by hour, and a list of what is off with its reason and fix',
    run: async ({ member: { siteId }, query: { zone } }) => {
      const now = Date.now();
      const [courses, goal, attention] = await Promise.all([
        loadCourses(poolOf(siteId), siteId, { zone, now }),
        mainGoalCourse(siteId, { zone, now }),
        listAttention(poolOf(siteId), siteId, { now, replica: await (await readingOf(siteId)).state() }),
      ]);
      return { courses, goal, attention };
    },
  }),
] as const;
