import { segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/http/api';
import { analyse } from '@/server/analysis/analyse';

/** How many more people there would be without each condition of a segment under way. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { lookback, people } = await bodyAs(request, segmentSchema);
    return analyse({ kind: 'contributions', site: siteId, segment: { lookback, people } }, { signal: request.signal });
  });
}
