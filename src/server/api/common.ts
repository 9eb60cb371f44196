import { may } from '../auth/rights';
import { findCampaign } from '../db/campaigns';
import { changing } from '../db/changing';
import { leaveEditing, noteEditing } from '../db/editing';
import { NotExactlyOneRow, one } from '../db/queryable';
import type { Queryable } from '../db/queryable';
import { findSegment } from '../db/segments';
import { searchSite } from '../db/search';
import { poolOf } from '../db/sharedPool';
import { goals, pageSets, places } from '../db/vocabulary';
import { bringBack } from '../db/trash';
import type { EditedKind } from '../db/trash';
import { Refused } from '../http/refused';
import { binSchema, editingSchema, searchSchema, storedSchema } from '../http/requests';
import { endpoint } from './endpoint';

const LOGGED = { segment: 'segment', campaign: 'campaign', place: 'place', page_set: 'page set', goal: 'goal' } as const;

const nameOf = async (db: Queryable, siteId: number, { kind, id }: { kind: EditedKind; id: string }): Promise<string> =>
  (await one<{ name: string }>(db, `select name from ${kind} where site_id = $1 and id = $2`, [siteId, id])).name;

/** Whatever is edited, as it is stored. */
const STORED = {
  segment: findSegment,
  campaign: findCampaign,
  place: (db, siteId, id) => places.find(db, siteId, id),
  page_set: (db, siteId, id) => pageSets.find(db, siteId, id),
  goal: (db, siteId, id) => goals.find(db, siteId, id),
} as const satisfies Readonly<
  Record<EditedKind, (db: Queryable, siteId: number, id: string) => Promise<{ readonly revision: number } | undefined>>
>;

export const commonEndpoints = [
  endpoint({
    method: 'POST',
    path: '/api/editing',
    right: 'look',
    says: 'Say that something is open in an editor',
    body: editingSchema,
    answers: 'Who else has it open, and the revision that is stored',
    run: async ({ member: { siteId, id: memberId }, body: { isLeaving, ...what } }) => {
      if (!isLeaving) return noteEditing(poolOf(siteId), { siteId, memberId, ...what });
      await leaveEditing(poolOf(siteId), { siteId, ...what });
      return { beside: [], revision: null };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/stored',
    right: 'look',
    says: 'Something that is edited, as it is stored by now',
    query: storedSchema,
    answers: 'Its revision, and all of it',
    run: async ({ member: { siteId }, query: { kind, id } }) => {
      const document: { readonly revision: number } | undefined = await STORED[kind](poolOf(siteId), siteId, id);
      if (!document) throw new Refused(404, 'notFound', 'It was deleted elsewhere. What you typed is still here.');
      return { revision: document.revision, document };
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/search',
    right: 'look',
    says: 'Everything of the site whose name contains a text',
    query: searchSchema,
    answers: 'Segments, campaigns, page sets, places, visitors, leads and pages',
    run: async ({ member: { siteId, role }, query }) => {
      return searchSite(poolOf(siteId), siteId, query.text, { withPeople: may(role, 'people') });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/trash',
    right: 'edit',
    says: 'Bring back what was deleted',
    body: binSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { kind, id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        await bringBack(db, kind, siteId, id).catch((cause: unknown) => {
          if (cause instanceof NotExactlyOneRow)
            throw new Refused(404, 'notFound', 'It is no longer kept: what is deleted is kept for thirty days, and brought back once');
          throw cause;
        });
        await note({
          kind: LOGGED[kind],
          subject: id,
          name: await nameOf(db, siteId, { kind, id }),
          did: 'brought back',
        });
      });
    },
  }),
] as const;
