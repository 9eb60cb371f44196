import { Readable } from 'node:stream';
import { changing } from '../db/changing';
import type { Queryable } from '../db/queryable';
import { poolOf } from '../db/sharedPool';
import { Refused } from '../http/refused';
import { erasureSchema, keptDaysSchema, keptQuerySchema, personSchema } from '../http/requests';
import { findPerson, personOf } from '../privacy/find';
import { countPerson, erasePerson, exportPerson } from '../privacy/person';
import { keptOf, setKept, wouldGo } from '../privacy/retention';
import { endpoint, file } from './endpoint';

const hasLeads = async (db: Queryable, siteId: number, emails: readonly string[]): Promise<boolean> =>
  (await db.query(`select from lead where site_id = $1 and lower(email) = any($2) limit 1`, [siteId, emails])).rowCount === 1;

/** As an address has them. */
const numbersIn = (text: string | undefined): number[] | undefined => text?.split(',').filter(Boolean).map(Number);

export const privacyEndpoints = [
  endpoint({
    method: 'POST',
    path: '/api/privacy/erasures',
    right: 'own',
    says: 'Erase somebody, here and at the connections that got something of them',
    body: erasureSchema,
    answers: 'The receipt',
    run: async ({ member, body: asked }) => {
      const { siteId, name } = member;
      return changing(member, async (db, note) => {
        const person = personOf(await findPerson(db, siteId, asked), asked.claims);
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
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/privacy/kept',
    right: 'own',
    says: 'What would go if visits, leads and conversations were kept for so many days',
    query: keptQuerySchema,
    answers: 'How many visits, leads and conversations there are that are older',
    run: ({ member: { siteId }, query: { visits = null, leads = null, conversations = null } }) =>
      wouldGo(poolOf(siteId), siteId, { visits, leads, conversations }, Date.now()),
  }),
  endpoint({
    method: 'PUT',
    path: '/api/privacy/kept',
    right: 'own',
    says: 'For how many days visits, leads and conversations are kept',
    body: keptDaysSchema,
    answers: 'Nothing more',
    run: async ({ member, body: kept }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await keptOf(db, siteId);
        await setKept(db, siteId, kept);
        await note({
          kind: 'setup',
          subject: 'kept',
          name: 'how long is kept',
          did: 'changed',
          before: { ...before },
          after: { ...kept },
        });
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/privacy/person',
    right: 'own',
    says: 'How much of somebody is on record',
    query: personSchema,
    answers:
      'Rows by table, browsers and emails, and the browsers that say so without a signature: those that say to be somebody else, too, are left out unless `claims` names them',
    run: async ({ member: { siteId }, query }) => {
      const db = poolOf(siteId);
      const found = await findPerson(db, siteId, query);
      const { visitors, emails, others } = personOf(found, numbersIn(query.claims));
      return { visitors, emails, claims: found.claims, rows: await countPerson(db, siteId, { visitors, emails, others }) };
    },
  }),
  file({
    path: '/person.json',
    right: 'own',
    says: 'Everything that is on record of somebody',
    query: personSchema,
    answers: 'JSON, table by table',
    run: async ({ member: { siteId }, query }) => {
      const db = poolOf(siteId);
      const person = personOf(await findPerson(db, siteId, query), numbersIn(query.claims));
      return new Response(Readable.toWeb(Readable.from(exportPerson(db, siteId, person))) as ReadableStream, {
        headers: {
          'content-type': 'application/json; charset=utf-8',
          'content-disposition': 'attachment; filename="person.json"',
          'cache-control': 'no-store',
        },
      });
    },
  }),
] as const;
