import { answer, queryAs } from '@/server/http/api';
import { poolOf, readingOf } from '@/server/db/sharedPool';
import { todaySchema } from '@/server/http/requests';
import { listAttention } from '@/server/today/attention';
import { loadCourses } from '@/server/today/course';

/** Today's course beside the usual one, and what needs attention. `zone` is the time zone in which today is today. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { zone } = queryAs(request, todaySchema);
    const now = Date.now();
    const [courses, attention] = await Promise.all([
      loadCourses(poolOf(siteId), siteId, { zone, now }),
      listAttention(poolOf(siteId), siteId, { now, replica: await (await readingOf(siteId)).state() }),
    ]);
    return { courses, attention };
  });
}
