import { answer, bodyAs } from '@/server/http/api';
import { newId } from '@/server/db/ids';
import { withTransaction } from '@/server/db/pool';
import { listPurposes, makePurpose } from '@/server/db/purposes';
import { poolOf } from '@/server/db/sharedPool';
import { newPurposeSchema } from '@/server/http/requests';

export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => listPurposes(poolOf(siteId), siteId));
}

/** Made of what a campaign is for; that campaign is its first. */
export async function POST(request: Request) {
  return answer(request, async ({ siteId }) => {
    const { name, campaign } = await bodyAs(request, newPurposeSchema);
    const id = newId('purp');
    await withTransaction(poolOf(siteId), (tx) => makePurpose(tx, siteId, { id, name, campaign }));
    return { id };
  });
}
