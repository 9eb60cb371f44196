import { answer } from '@/server/http/api';
import { readingOf } from '@/server/db/sharedPool';
import { listValues } from '@/server/visitors/values';

/** What texts can say of a visitor, with how many of the latest have it. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => (await readingOf(siteId)).read((db) => listValues(db, siteId, Date.now())));
}
