import { answer } from '@/server/http/api';
import { readingOf } from '@/server/db/sharedPool';
import { listKnown } from '@/server/visitors/known';

/** Some visitors who are known, the one heard of last first, with what texts can say of them. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => (await readingOf(siteId)).read((db) => listKnown(db, siteId, Date.now())));
}
