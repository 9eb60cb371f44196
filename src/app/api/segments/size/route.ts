import { segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/api';
import { pool } from '@/server/pool';
import { countSegment } from '@/server/segments/count';
import { listVisits } from '@/server/db/visits';

const SAMPLE = 6;

/** How many people a segment under way holds, with a few of their last visits. */
export async function POST(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { lookback, people } = await bodyAs(request, segmentSchema);
    const { members, ...size } = await countSegment(pool(), siteId, { lookback, people }, Date.now());
    const visits = await listVisits(pool(), siteId, { limit: SAMPLE, visitorIds: members.slice(-200) });
    return { ...size, visits };
  });
}
