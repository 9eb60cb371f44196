import { poolOf } from '@/server/db/sharedPool';
import { answer, queryAs } from '@/server/http/api';
import { personSchema } from '@/server/http/requests';
import { countPerson, findPerson } from '@/server/privacy/person';

/** How much of somebody is on record, by table, and by which browsers and emails. */
export async function GET(request: Request) {
  return answer(request, async ({ siteId }) => {
    const db = poolOf(siteId);
    const person = await findPerson(db, siteId, queryAs(request, personSchema));
    return { ...person, rows: await countPerson(db, siteId, person) };
  });
}
