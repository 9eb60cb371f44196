import { noteChange } from '@/server/db/changeLog';
import { z } from 'zod';
import { upgradeCampaign } from '@/core/flows/upgrade';
import { campaignSchema } from '@/core/campaigns/campaign';
import { answer, bodyAs } from '@/server/http/api';
import { insertCampaign } from '@/server/db/campaigns';
import { withTransaction } from '@/server/db/pool';
import { newId } from '@/server/db/ids';
import { poolOf } from '@/server/db/sharedPool';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const document = await bodyAs(request, z.preprocess(upgradeCampaign, campaignSchema));
    const id = newId('camp');
    await withTransaction(poolOf(siteId), (tx) => insertCampaign(tx, { siteId, id, document }));
    await noteChange(poolOf(siteId), siteId, member, { kind: 'campaign', subject: id, name: document.name, did: 'made', after: document });
    return { id };
  });
}
