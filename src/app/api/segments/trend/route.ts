import { z } from 'zod';
import { segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/http/api';
import { analyse } from '@/server/analysis/analyse';

const lineSchema = segmentSchema.extend({ days: z.int().min(1).max(90) });

/** A segment's size at each midnight of the last days, and who was in it in the last 7 and 30. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { lookback, people, days } = await bodyAs(request, lineSchema);
    return analyse({ kind: 'trend', site: siteId, segment: { lookback, people }, days }, { signal: request.signal });
  });
}
