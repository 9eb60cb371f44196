import { Watching } from '@/server/conversations/watch';
import { createListener } from '@/server/db/pool';
import { pool, poolOf } from '@/server/db/sharedPool';
import { answerInEvents } from '@/server/http/api';

const shared = globalThis as typeof globalThis & { crindleWatching?: Watching };

/** Says `changed`, with the thread where that is known, whenever something in the site's conversations has, and `writing` while a visitor does. */
export async function GET(request: Request) {
  return answerInEvents(request, ({ siteId }, say) => {
    shared.crindleWatching ??= new Watching(pool(), poolOf, createListener);
    say('ready', {});
    return shared.crindleWatching.watch(siteId, (thread, writes) => say(writes ? 'writing' : 'changed', { thread: thread ?? null }));
  });
}
