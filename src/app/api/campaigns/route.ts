import { z } from 'zod';
import { upgradeCampaign } from '@/core/flows/upgrade';
import { campaignSchema } from '@/core/campaigns/campaign';
import { answer, bodyAs } from '@/server/http/api';
import { insertCampaign } from '@/server/db/campaigns';
import { withTransaction } from '@/server/db/pool';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';

export async function POST(request: Request) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const document = await bodyAs(request, z.preprocess(upgradeCampaign, campaignSchema));
    const id = newId('camp');
    await withTransaction(poolOf(siteId), (tx) => insertCampaign(tx, { siteId, id, document }));
    return { id };
  });
}
