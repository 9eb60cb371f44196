import { z } from 'zod';
import { answer, bodyAs } from '@/server/api';
import { pool } from '@/server/pool';
import { publish } from '@/server/releases/publish';

const releaseSchema = z.strictObject({ name: z.string().trim().max(200), note: z.string().trim().max(2000) });

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId, id }) => {
    const { name, note } = await bodyAs(request, releaseSchema);
    return { number: await publish(pool(), { siteId, memberId: id, name, note }) };
  });
}
