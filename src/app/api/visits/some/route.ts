import { z } from 'zod';
import { answer, bodyAs } from '@/server/api';
import { listVisits } from '@/server/db/visits';
import { pool } from '@/server/pool';

const someSchema = z.strictObject({ visits: z.array(z.uuid()).max(100) });

/** Recorded visits by their ids, to draw. */
export async function POST(request: Request) {
  return answer(request, {}, async ({ siteId }) => {
    const { visits } = await bodyAs(request, someSchema);
    return visits.length ? listVisits(pool(), siteId, { limit: visits.length, visitIds: visits }) : [];
  });
}
