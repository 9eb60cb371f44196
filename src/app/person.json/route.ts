import { Readable } from 'node:stream';
import { poolOf } from '@/server/db/sharedPool';
import { download, queryAs } from '@/server/http/api';
import { personSchema } from '@/server/http/requests';
import { exportPerson, findPerson } from '@/server/privacy/person';

/** Everything that is on record of somebody, sent as it is read. */
export async function GET(request: Request) {
  return download(request, async ({ siteId }) => {
    const db = poolOf(siteId);
    const person = await findPerson(db, siteId, queryAs(request, personSchema));
    return new Response(Readable.toWeb(Readable.from(exportPerson(db, siteId, person))) as ReadableStream, {
      headers: {
        'content-type': 'application/json; charset=utf-8',
        'content-disposition': 'attachment; filename="person.json"',
        'cache-control': 'no-store',
      },
    });
  });
}
