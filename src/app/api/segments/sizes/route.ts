import { poolOf } from '@/server/db/sharedPool';
import { answerInLines } from '@/server/http/api';
import { countSegments } from '@/server/segments/sizes';

/** How many people each of the site's segments holds, by its id and revision; answers line by line as they are counted. */
export async function GET(request: Request) {
  return answerInLines(
    request,
    async ({ siteId }) =>
      (emit) =>
        countSegments(poolOf(siteId), siteId, { signal: request.signal, onPart: emit }),
  );
}
