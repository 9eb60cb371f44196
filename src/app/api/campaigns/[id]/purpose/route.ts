import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { findCampaign } from '@/server/db/campaigns';
import { withTransaction } from '@/server/db/pool';
import { setPurpose } from '@/server/db/purposes';
import { poolOf } from '@/server/db/sharedPool';
import { purposeOfSchema } from '@/server/http/requests';

/** Lets the campaign join a purpose, or leave the one that it is of. */
export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { purpose } = await bodyAs(request, purposeOfSchema);
    const { id } = await params;
    await withTransaction(poolOf(siteId), (tx) => setPurpose(tx, siteId, { campaign: id, purpose }));
    const name = (await findCampaign(poolOf(siteId), siteId, id))?.name ?? id;
    const did = purpose === null ? 'taken out of its purpose' : 'made one form of a purpose';
    await noteChange(poolOf(siteId), siteId, member, { kind: 'campaign', subject: id, name, did });
  });
}
