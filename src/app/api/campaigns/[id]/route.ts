import { upgradeCampaign } from '@/core/flows/upgrade';
import { z } from 'zod';
import { changing } from '@/server/db/changing';
import type { CampaignStatus } from '@/core/campaigns/campaign';
import { campaignSchema } from '@/core/campaigns/campaign';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { documentOf, findCampaign, setCampaignStatus, updateCampaign } from '@/server/db/campaigns';
import { lockPurposeOf, spreadShared } from '@/server/db/purposes';
import { statusSchema } from '@/server/http/requests';

const changedCampaignSchema = z.preprocess(upgradeCampaign, campaignSchema.safeExtend({ revision: z.int().min(1) }));
/** What a status by hand is in the log. */
const SAID: Readonly<Record<CampaignStatus, string>> = {
  live: 'switched on',
  draft: 'switched off',
  paused: 'paused',
  scheduled: 'scheduled',
  ended: 'ended',
};
type Context = { params: Promise<{ id: string }> };

export async function PUT(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const { revision, ...document } = await bodyAs(request, changedCampaignSchema);
    return changing(member, async (db, note) => {
      const before = await findCampaign(db, siteId, id);
      if (!before) throw new Refused(404, 'notFound', 'This campaign was deleted elsewhere. What you typed is still here.');
      const purpose = await lockPurposeOf(db, siteId, id);
      const saved = await updateCampaign(db, { siteId, id, document, revision });
      const others = purpose ? await spreadShared(db, siteId, { purpose, campaign: id, document }) : 0;
      await note({ kind: 'campaign', subject: id, name: document.name, did: 'changed', before: documentOf(before), after: document });
      return { revision: saved, others };
    });
  });
}

export async function POST(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { status } = await bodyAs(request, statusSchema);
    const { id } = await params;
    return changing(member, async (db, note) => {
      await setCampaignStatus(db, siteId, id, status);
      const name = (await findCampaign(db, siteId, id))?.name ?? id;
      await note({ kind: 'campaign', subject: id, name, did: SAID[status] });
    });
  });
}

export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    return changing(member, async (db, note) => {
      const campaign = await findCampaign(db, siteId, id);
      if (campaign?.status === 'live') throw new Refused(409, 'campaign.live', 'It is switched on. Switch it off first.');
      await moveToTrash(db, 'campaign', siteId, id);
      if (campaign)
        await note({
          kind: 'campaign',
          subject: id,
          name: campaign.name,
          did: 'deleted',
          before: documentOf(campaign),
        });
    });
  });
}
