import { dropInvitation } from '@/server/auth/invitations';
import { pool } from '@/server/db/sharedPool';
import { answer, Refused } from '@/server/http/api';

export async function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ siteId }) => {
    if (!(await dropInvitation(pool(), siteId, (await params).id)))
      throw new Refused(404, 'notFound', 'That invitation is over, or was taken');
  });
}
