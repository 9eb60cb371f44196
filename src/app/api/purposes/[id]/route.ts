import { answer, bodyAs } from '@/server/http/api';
import { renamePurpose } from '@/server/db/purposes';
import { poolOf } from '@/server/db/sharedPool';
import { purposeNameSchema } from '@/server/http/requests';

export async function PUT(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    const { name } = await bodyAs(request, purposeNameSchema);
    await renamePurpose(poolOf(siteId), siteId, { id: (await params).id, name });
  });
}
