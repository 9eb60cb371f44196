import { z } from 'zod';
import { segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/api';
import { think } from '@/server/thinking/think';

const lineSchema = segmentSchema.extend({ days: z.int().min(1).max(90) });

/** A segment's size at each midnight of the last days, and who was in it in the last 7 and 30. */
export async function POST(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { lookback, people, days } = await bodyAs(request, lineSchema);
    return think({ kind: 'line', site: siteId, segment: { lookback, people }, days }, { signal: request.signal });
  });
}
