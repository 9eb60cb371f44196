import { answer, queryAs } from '@/server/api';
import { pool } from '@/server/pool';
import { todaySchema } from '@/server/requests';
import { listAttention } from '@/server/today/attention';
import { loadCourses } from '@/server/today/course';

/** Today's course beside the usual one, and what needs attention. `zone` is the time zone in which today is today. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { zone } = queryAs(request, todaySchema);
    const [courses, attention] = await Promise.all([loadCourses(pool(), siteId, zone), listAttention(pool(), siteId, Date.now())]);
    return { courses, attention };
  });
}
