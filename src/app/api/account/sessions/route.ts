import { requireSession } from '@/server/auth/current';
import { sessionsEnded } from '@/server/auth/sessionEnds';
import { tokenHash } from '@/server/auth/token';
import { endSessions } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { answer } from '@/server/http/api';

/** All but this one end. */
export async function DELETE(request: Request) {
  return answer(request, async ({ id }) => {
    const ended = await endSessions(pool(), id, { but: tokenHash(await requireSession()) });
    sessionsEnded(ended);
    return { sessions: ended.length };
  });
}
