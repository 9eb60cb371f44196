import { answerInEvents } from '@/server/http/api';
import { isUnavailable } from '@/server/db/queryable';
import { poolOf } from '@/server/db/sharedPool';
import { LiveSites } from '@/server/today/live';

const shared = globalThis as typeof globalThis & { crindleLive?: LiveSites };

/** Who is on the site and what happens there, as an event stream: `news` every two seconds, `trouble` while the database is away. */
export async function GET(request: Request) {
  return answerInEvents(request, ({ siteId }, say) => {
    shared.crindleLive ??= new LiveSites(poolOf, { clock: Date.now });
    return shared.crindleLive.listen(siteId, {
      onNews: (news) => say('news', news),
      onTrouble: (cause) => {
        console.error(cause);
        const why = isUnavailable(cause) ? 'The database cannot be reached' : 'Something went wrong on our side';
        say('trouble', { message: `${why}; what you see stands still until it is tried again.` });
      },
    });
  });
}
