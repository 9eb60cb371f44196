import { deleteSavedAnswer } from '@/server/db/savedAnswers';
import { poolOf } from '@/server/db/sharedPool';
import { answer, Refused } from '@/server/http/api';

export async function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    if (!(await deleteSavedAnswer(poolOf(siteId), siteId, (await params).id)))
      throw new Refused(404, 'notFound', 'This answer is not here any more');
  });
}
