import { z } from 'zod';
import { issueWords, parseWith } from '@/core/rules/parse';
import { isZone } from '@/core/time/localTime';
import { answer, Refused } from '@/server/api';
import { pool } from '@/server/pool';
import { listAttention } from '@/server/today/attention';
import { loadCourses } from '@/server/today/course';

const todaySchema = z.strictObject({ zone: z.string().max(80).refine(isZone, 'calendar.zone') });

/** Today's course beside the usual one, and what needs attention. `zone` is the time zone in which today is today. */
export async function GET(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const query = parseWith(todaySchema, Object.fromEntries(new URL(request.url).searchParams));
    if (!query.ok) throw new Refused(422, 'query.shape', query.issues.map(issueWords).join('; '), query.issues);
    const { zone } = query.value;
    const [courses, attention] = await Promise.all([
      loadCourses(pool(), siteId, zone),
      listAttention(pool(), siteId, Date.now()),
    ]);
    return { courses, attention };
  });
}
