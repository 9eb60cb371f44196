import { changing } from '../db/changing';
import { pool, poolOf } from '../db/sharedPool';
import { findSite } from '../db/sites';
import { findPointed, openTryout } from '../db/tryouts';
import { Refused } from '../http/refused';
import { goBackSchema, releaseSchema, tryoutSchema } from '../http/requests';
import { goBack, publish } from '../releases/publish';
import { addressOnSite, NotOfTheSite, withTicket } from '../tryout/address';
import { endpoint } from './endpoint';

export const releasesEndpoints = [
  endpoint({
    method: 'POST',
    path: '/api/releases/{number}/back',
    right: 'edit',
    says: 'Publishes an earlier release once more, as the next one; drafts stay as they are',
    body: goBackSchema,
    answers: 'The number of the new release',
    run: async ({ member, body: { note }, params }) => {
      const { siteId, id } = member;
      const to = Number(params.number);
      if (!Number.isInteger(to) || to < 1 || to > 2_147_483_647) throw new Refused(404, 'notFound', 'No release has that number');
      return changing(member, async (db, log) => {
        const number = await goBack(db, { siteId, memberId: id, to, note });
        await log({
          kind: 'release',
          subject: String(number),
          name: `Release ${number}`,
          did: `published: back to ${to}`,
        });
        return { number };
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/releases',
    right: 'edit',
    says: 'Publish a release',
    body: releaseSchema,
    answers: 'Its number',
    run: async ({ member, body: { name, note, seen } }) => {
      const { siteId, id } = member;
      return changing(member, async (db, log) => {
        const number = await publish(db, { siteId, memberId: id, name, note, seen });
        await log({
          kind: 'release',
          subject: String(number),
          name: name || `Release ${number}`,
          did: 'published',
        });
        return { number };
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/tryouts/{id}',
    right: 'edit',
    says: 'What was pointed at on the site, for a field that waits for it',
    answers: 'The page or the element; null so far',
    run: async ({ params, session }) => {
      const found = await findPointed(pool(), { id: params.id, session: session });
      if (!found) throw new Refused(404, 'notFound', 'The tab on the site was left, or nothing was heard of it for an hour');
      return found;
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/tryouts',
    right: 'edit',
    says: 'Open a try-out: an address of the site that shows in one tab what is not published, to whoever opens it first within five minutes',
    body: tryoutSchema,
    answers: 'Its id, and the address to open',
    run: async ({ member: { siteId }, body: { page, campaign, wants }, session }) => {
      const site = await findSite(poolOf(siteId), siteId);
      if (!site) throw new Refused(404, 'notFound', 'The site is not there any more');
      try {
        const url = await addressOnSite(poolOf(siteId), site, page);
        const { id, ticket } = await openTryout(pool(), { siteId, session: session, campaign, wants });
        return { id, url: withTicket(url, site, ticket) };
      } catch (cause) {
        if (cause instanceof NotOfTheSite) throw new Refused(422, cause.code, cause.message);
        throw cause;
      }
    },
  }),
] as const;
