import { sessionsEnded } from '@/server/auth/sessionEnds';
import { endSessions } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { answer, Refused } from '@/server/http/api';

export async function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }) {
  return answer(request, async ({ id }) => {
    const ended = await endSessions(pool(), id, { id: (await params).id });
    if (ended.length === 0) throw new Refused(404, 'notFound', 'That session is over already');
    sessionsEnded(ended);
  });
}
