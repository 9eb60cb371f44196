import { answer } from '@/server/http/api';
import { poolOf } from '@/server/db/sharedPool';
import { deleteStartingPoint } from '@/server/db/startingPoints';

export async function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => deleteStartingPoint(poolOf(siteId), siteId, (await params).id));
}
