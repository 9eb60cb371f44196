import { isHere, nextChange } from '@/core/conversations/hours';
import { listColleagues } from '@/server/db/colleagues';
import { poolOf } from '@/server/db/sharedPool';
import { listThreads } from '@/server/db/threads';
import { answer } from '@/server/http/api';

/** Conversations, whoever waits longest first, and who of the team is here. `state`: open or closed; `mine`; `words` that a line has. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId, id }) => {
    const { searchParams } = new URL(request.url);
    const state = searchParams.get('state');
    const db = poolOf(siteId);
    const now = Date.now();
    const [threads, colleagues] = await Promise.all([
      listThreads(db, siteId, {
        state: state === 'open' || state === 'closed' ? state : undefined,
        member: searchParams.has('mine') ? id : undefined,
        words: searchParams.get('words')?.slice(0, 200),
      }),
      listColleagues(db, siteId),
    ]);
    return {
      now,
      threads,
      me: id,
      colleagues: colleagues
        .filter(({ answers }) => answers)
        .map(({ member, name, presence, open }) => ({
          member,
          name,
          open,
          isHere: isHere(presence, now),
          until: nextChange(presence, now) ?? null,
        })),
    };
  });
}
