import { issueWords, parseWith } from '@/core/parsing/parse';
import { isHere, nextChange } from '@/core/conversations/hours';
import { listColleagues } from '@/server/db/colleagues';
import { poolOf } from '@/server/db/sharedPool';
import { listThreads } from '@/server/db/threads';
import { answer, Refused } from '@/server/http/api';
import { threadsSchema } from '@/server/http/requests';

/** Conversations, whoever waits longest first, and who of the team is here. `state`: open or closed; `mine`; `words` that a line has; `most` of them. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId, id }) => {
    const asked = parseWith(threadsSchema, Object.fromEntries(new URL(request.url).searchParams));
    if (!asked.ok) throw new Refused(422, 'query.shape', asked.issues.map(issueWords).join('; '), asked.issues);
    const { state, mine, words, most } = asked.value;
    const db = poolOf(siteId);
    const now = Date.now();
    const [threads, colleagues] = await Promise.all([
      listThreads(db, siteId, {
        state,
        member: mine === undefined ? undefined : id,
        words,
        most: most + 1,
      }),
      listColleagues(db, siteId),
    ]);
    return {
      now,
      threads: threads.slice(0, most),
      hasMore: threads.length > most,
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
