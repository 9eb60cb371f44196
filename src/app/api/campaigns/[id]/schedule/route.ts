import { noteChange } from '@/server/db/changeLog';
import { answer, bodyAs } from '@/server/http/api';
import { findCampaign, setSchedule } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { scheduleSchema } from '@/server/http/requests';

export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async (member) => {
    const { siteId } = member;
    const { startsAt, endsAt } = await bodyAs(request, scheduleSchema);
    const { id } = await params;
    await setSchedule(poolOf(siteId), siteId, id, {
      startsAt: startsAt === null ? null : new Date(startsAt),
      endsAt: endsAt === null ? null : new Date(endsAt),
    });
    const name = (await findCampaign(poolOf(siteId), siteId, id))?.name ?? id;
    await noteChange(poolOf(siteId), siteId, member, {
      kind: 'campaign',
      subject: id,
      name,
      did: 'scheduled',
      after: { startsAt, endsAt },
    });
  });
}
