import { answerInBytes, queryAs, Refused } from '@/server/http/api';
import { recordedVisitsSchema } from '@/server/http/requests';
import { analyse } from '@/server/analysis/analyse';

/** Recorded visits to rehearse over in the browser: the length of the columns in four bytes, the columns, the visits' ids. */
export async function GET(request: Request) {
  return answerInBytes(request, async ({ siteId }) => {
    const { days } = queryAs(request, recordedVisitsSchema);
    const { snapshot, columns, ids } = await analyse({ kind: 'recorded', site: siteId, days }, { signal: request.signal });
    if (!columns || !ids)
      throw new Refused(413, 'visits.tooMany', 'There are more visits than a browser had better hold; rehearse them here');
    const length = new Uint8Array(4);
    new DataView(length.buffer).setUint32(0, columns.length);
    return { tag: snapshot, parts: [length, columns, ids] };
  });
}
