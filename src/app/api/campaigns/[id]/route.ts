import { upgradeCampaign } from '@/core/flows/upgrade';
import { z } from 'zod';
import { noteChange } from '@/server/db/changeLog';
import type { CampaignStatus } from '@/core/campaigns/campaign';
import { campaignSchema } from '@/core/campaigns/campaign';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { moveToTrash } from '@/server/db/trash';
import { documentOf, findCampaign, setCampaignStatus, updateCampaign } from '@/server/db/campaigns';
import { withTransaction } from '@/server/db/pool';
import { lockPurposeOf, spreadShared } from '@/server/db/purposes';
import { poolOf } from '@/server/db/sharedPool';
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
    const before = await findCampaign(poolOf(siteId), siteId, id);
    if (!before) throw new Refused(404, 'notFound', 'This campaign was deleted elsewhere. What you typed is still here.');
    return withTransaction(poolOf(siteId), async (tx) => {
      const purpose = await lockPurposeOf(tx, siteId, id);
      const saved = await updateCampaign(tx, { siteId, id, document, revision });
      const others = purpose ? await spreadShared(tx, siteId, { purpose, campaign: id, document }) : 0;
      await noteChange(tx, siteId, member, {
        kind: 'campaign',
        subject: id,
        name: document.name,
        did: 'changed',
        before: documentOf(before),
        after: document,
      });
      return { revision: saved, others };
    });
  });
}

export async function POST(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { status } = await bodyAs(request, statusSchema);
    const { id } = await params;
    await setCampaignStatus(poolOf(siteId), siteId, id, status);
    const name = (await findCampaign(poolOf(siteId), siteId, id))?.name ?? id;
    await noteChange(poolOf(siteId), siteId, member, { kind: 'campaign', subject: id, name, did: SAID[status] });
  });
}

export async function DELETE(request: Request, { params }: Context) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { id } = await params;
    const campaign = await findCampaign(poolOf(siteId), siteId, id);
    if (campaign?.status === 'live') throw new Refused(409, 'campaign.live', 'It is switched on. Switch it off first.');
    await moveToTrash(poolOf(siteId), 'campaign', siteId, id);
    if (campaign)
      await noteChange(poolOf(siteId), siteId, member, {
        kind: 'campaign',
        subject: id,
        name: campaign.name,
        did: 'deleted',
        before: documentOf(campaign),
      });
  });
}
