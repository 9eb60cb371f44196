import { changing } from '@/server/db/changing';
import { z } from 'zod';
import { upgradeCampaign } from '@/core/flows/upgrade';
import { campaignSchema } from '@/core/campaigns/campaign';
import { answer, bodyAs } from '@/server/http/api';
import { insertCampaign } from '@/server/db/campaigns';
import { newId } from '@/server/db/ids';

export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const document = await bodyAs(request, z.preprocess(upgradeCampaign, campaignSchema));
    const id = newId('camp');
    return changing(member, async (db, note) => {
      await insertCampaign(db, { siteId, id, document });
      await note({ kind: 'campaign', subject: id, name: document.name, did: 'made', after: document });
      return { id };
    });
  });
}
