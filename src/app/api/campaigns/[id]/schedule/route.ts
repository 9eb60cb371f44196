import { changing } from '@/server/db/changing';
import { answer, bodyAs } from '@/server/http/api';
import { findCampaign, setSchedule } from '@/server/db/campaigns';
import { scheduleSchema } from '@/server/http/requests';

export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { startsAt, endsAt } = await bodyAs(request, scheduleSchema);
    const { id } = await params;
    return changing(member, async (db, note) => {
      await setSchedule(db, siteId, id, {
        startsAt: startsAt === null ? null : new Date(startsAt),
        endsAt: endsAt === null ? null : new Date(endsAt),
      });
      const name = (await findCampaign(db, siteId, id))?.name ?? id;
      await note({
        kind: 'campaign',
        subject: id,
        name,
        did: 'scheduled',
        after: { startsAt, endsAt },
      });
    });
  });
}
