import { DAY_MS } from '@/core/time/day';
import { analyse } from '@/server/analysis/analyse';
import { answer, bodyAs } from '@/server/http/api';
import { reachedSchema } from '@/server/http/requests';
import { reachedByDay } from '@/server/today/course';

const DAYS = 30;

/** How often a goal was reached on each of the last thirty days; the goal need not be saved. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { goal, zone } = await bodyAs(request, reachedSchema);
    const now = Date.now();
    const { quarters, visitors } = await analyse(
      { kind: 'reached', site: siteId, goal, since: now - DAYS * DAY_MS, now },
      { signal: request.signal },
    );
    return {
      times: quarters.reduce((sum, [, times]) => sum + times, 0),
      visitors,
      days: reachedByDay(quarters, { zone, now, days: DAYS }),
    };
  });
}
