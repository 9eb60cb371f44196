import { segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/http/api';
import { listVisits } from '@/server/db/visits';
import { readingOf } from '@/server/db/sharedPool';
import { analyse } from '@/server/analysis/analyse';

const SAMPLE = 6;

/** How many people a segment under way holds, with a few of their last visits. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { lookback, people } = await bodyAs(request, segmentSchema);
    const started = performance.now();
    const { sample, ...size } = await analyse({ kind: 'size', site: siteId, segment: { lookback, people } }, { signal: request.signal });
    const ms = Math.round(performance.now() - started);
    const visits = sample.length
      ? await (await readingOf(siteId)).read((db) => listVisits(db, siteId, { limit: SAMPLE, visitorIds: sample }))
      : [];
    return { ...size, ms, visits };
  });
}
