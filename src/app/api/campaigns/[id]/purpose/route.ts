import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { findCampaign } from '@/server/db/campaigns';
import { setPurpose } from '@/server/db/purposes';
import { purposeOfSchema } from '@/server/http/requests';

/** Lets the campaign join a purpose, or leave the one that it is of. */
export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { purpose } = await bodyAs(request, purposeOfSchema);
    const { id } = await params;
    return changing(member, async (db, note) => {
      await setPurpose(db, siteId, { campaign: id, purpose });
      const name = (await findCampaign(db, siteId, id))?.name ?? id;
      const did = purpose === null ? 'taken out of its purpose' : 'made one form of a purpose';
      await note({ kind: 'campaign', subject: id, name, did });
    });
  });
}
