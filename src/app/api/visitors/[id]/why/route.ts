import { z } from 'zod';
import { answer, Refused } from '@/server/http/api';
import { poolOf } from '@/server/db/sharedPool';
import { whyAt } from '@/server/visitors/why';
import { DAY_MS } from '@/core/time/day';

const query = z.object({
  view: z.uuid(),
  t: z.coerce
    .number()
    .min(0)
    .max(30 * DAY_MS),
  id: z.coerce.number().int().min(1),
});

/** For every campaign, why it shows or does not at `t` ms of a page view of this visitor. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { searchParams } = new URL(request.url);
    const asked = query.safeParse({ ...Object.fromEntries(searchParams), id: (await params).id });
    if (!asked.success)
      throw new Refused(422, 'query.shape', asked.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('; '));
    const { id, view, t } = asked.data;
    const reasons = await whyAt(poolOf(siteId), siteId, { visitor: id, view, t });
    if (!reasons) throw new Refused(404, 'notFound', 'That page view is not on record any more');
    return reasons;
  });
}
