import { answer, bodyAs } from '@/server/http/api';
import { setSchedule } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { scheduleSchema } from '@/server/http/requests';

export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, { mayEdit: true }, async ({ siteId }) => {
    const { startsAt, endsAt } = await bodyAs(request, scheduleSchema);
    await setSchedule(poolOf(siteId), siteId, (await params).id, {
      startsAt: startsAt === null ? null : new Date(startsAt),
      endsAt: endsAt === null ? null : new Date(endsAt),
    });
  });
}
