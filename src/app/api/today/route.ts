import { z } from 'zod';
import { isZone } from '@/core/time/localTime';
import { answer, queryAs } from '@/server/api';
import { pool } from '@/server/pool';
import { listAttention } from '@/server/today/attention';
import { loadCourses } from '@/server/today/course';

const todaySchema = z.strictObject({ zone: z.string().max(80).refine(isZone, 'calendar.zone') });

/** Today's course beside the usual one, and what needs attention. `zone` is the time zone in which today is today. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { zone } = queryAs(request, todaySchema);
    const [courses, attention] = await Promise.all([
      loadCourses(pool(), siteId, zone),
      listAttention(pool(), siteId, Date.now()),
    ]);
    return { courses, attention };
  });
}
