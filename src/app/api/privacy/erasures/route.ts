import { changing } from '@/server/db/changing';
import type { Queryable } from '@/server/db/queryable';
import { answer, bodyAs, Refused } from '@/server/http/api';
import { personSchema } from '@/server/http/requests';
import { erasePerson, findPerson } from '@/server/privacy/person';

/** Erases somebody, here and at the connections that got something of them; gives the receipt. */
export async function POST(request: Request) {
  return answer(request, async (member) => {
    const { siteId, name } = member;
    const asked = await bodyAs(request, personSchema);
    return changing(member, async (db, note) => {
      const person = await findPerson(db, siteId, asked);
      if (
        person.visitors.length === 0 &&
        person.emails.length <= (asked.by === 'email' ? 1 : 0) &&
        !(await hasLeads(db, siteId, person.emails))
      )
        throw new Refused(404, 'notFound', `value: nobody is on record by that ${asked.by}`);
      const receipt = await erasePerson(db, siteId, { person, by: name, foundBy: asked.by });
      await note({ kind: 'setup', subject: 'privacy', name: 'One person', did: 'erased' });
      return receipt;
    });
  });
}

const hasLeads = async (db: Queryable, siteId: number, emails: readonly string[]): Promise<boolean> =>
  (await db.query(`select from lead where site_id = $1 and lower(email) = any($2) limit 1`, [siteId, emails])).rowCount === 1;
