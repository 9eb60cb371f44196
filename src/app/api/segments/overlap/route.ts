import { z } from 'zod';
import { segmentSchema } from '@/core/rules/schema';
import { answer, bodyAs } from '@/server/http/api';
import { listSegments } from '@/server/db/segments';
import { poolOf } from '@/server/db/sharedPool';
import { analyse } from '@/server/analysis/analyse';

const MOST = 20;
const overlapSchema = z.strictObject({
  /** Ids; those that are gone are left out. */
  segments: z
    .array(z.string().max(100))
    .max(MOST - 1)
    .optional(),
  /** One under way, which comes first. */
  draft: segmentSchema.pick({ lookback: true, people: true }).optional(),
});

/** How many people any two of up to twenty segments share; on the diagonal how many each has. Without ids the first of the site's. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { segments: ids, draft } = await bodyAs(request, overlapSchema);
    const all = await listSegments(poolOf(siteId), siteId);
    const chosen = (ids ? all.filter(({ id }) => ids.includes(id)) : all).slice(0, draft ? MOST - 1 : MOST);
    const both = await analyse(
      {
        kind: 'overlap',
        site: siteId,
        segments: [...(draft ? [draft] : []), ...chosen.map(({ lookback, people }) => ({ lookback, people }))],
      },
      { signal: request.signal },
    );
    return { segments: chosen.map(({ id, name }) => ({ id, name })), both };
  });
}
