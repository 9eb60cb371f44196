import { z } from 'zod';
import { issueWords, parseWith } from '@/core/parsing/parse';
import { DAY_MS } from '@/core/time/day';
import { TERM_KINDS, termsFromParameters } from '@/core/visits/filter';
import { analyse } from '../analysis/analyse';
import { changing } from '../db/changing';
import { poolOf, readingOf } from '../db/sharedPool';
import { listSomeVisits } from '../db/visits';
import { Refused } from '../http/refused';
import { claimSchema, someVisitsSchema, visitsPageSchema } from '../http/requests';
import { queryShapes } from '../openapi/shapes';
import { undoClaim } from '../visitors/claims';
import { listKnown } from '../visitors/known';
import { listValues } from '../visitors/values';
import { whyAt } from '../visitors/why';
import { endpoint } from './endpoint';

/** `t`: ms since the page was opened. */
const momentOfView = z.object({
  view: z.uuid(),
  t: z.coerce
    .number()
    .min(0)
    .max(30 * DAY_MS),
});

const MOST_VISITOR = 2 ** 31 - 1;
const OTHERS = Object.keys(visitsPageSchema.shape);

export const visitsEndpoints = [
  endpoint({
    method: 'GET',
    path: '/api/values',
    right: 'look',
    says: 'What texts of messages can say of a visitor',
    answers: 'Names as written, with how many of the latest visitors have each',
    run: async ({ member: { siteId } }) => (await readingOf(siteId)).read((db) => listValues(db, siteId, Date.now())),
  }),
  endpoint({
    method: 'GET',
    path: '/api/visitors/{id}/why',
    right: 'people',
    says: 'Why each campaign shows or not at an instant of a page view',
    query: momentOfView,
    answers: 'For every campaign its rule as a tree with the facts found, and the first cause of silence',
    run: async ({ member: { siteId }, params: { id }, query: { view, t } }) => {
      const visitor = Number(id);
      const reasons = Number.isSafeInteger(visitor) && (await whyAt(poolOf(siteId), siteId, { visitor, view, t }));
      if (!reasons) throw new Refused(404, 'notFound', 'That page view is not on record any more');
      return reasons;
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/visitors/{id}/undone-claims',
    right: 'edit',
    says: 'A browser is not who it said, without a signature, to be',
    body: claimSchema,
    answers: 'Nothing more',
    run: async ({ member, params: { id }, body }) => {
      const visitor = Number(id);
      return changing(member, async (db, note) => {
        if (!Number.isSafeInteger(visitor) || visitor > MOST_VISITOR || !(await undoClaim(db, member.siteId, { visitor, ...body })))
          throw new Refused(404, 'notFound', 'value: that is not said of this visitor any more, or it was signed');
        await note({ kind: 'setup', subject: 'claim', name: `Who visitor ${visitor} says to be`, did: 'undone' });
      });
    },
  }),
  endpoint({
    method: 'GET',
    path: '/api/visitors/known',
    right: 'people',
    says: 'Some visitors who are known, the one heard of last first',
    answers: 'Their names, and what texts of messages can put in of them',
    run: async ({ member: { siteId } }) => (await readingOf(siteId)).read((db) => listKnown(db, siteId, Date.now())),
  }),
  endpoint({
    method: 'GET',
    path: '/api/visits',
    right: 'look',
    says: 'Recorded visits that meet all terms, newest first',
    alsoAsked: {
      ...queryShapes(visitsPageSchema),
      ...Object.fromEntries(
        TERM_KINDS.map((kind) => [kind, { type: 'array', items: { type: 'string', maxLength: kind === 'who' ? 4000 : 300 } }]),
      ),
    },
    answers: 'How many visits and visitors there are, and the visits asked for',
    run: async ({ member: { siteId }, signal, request }) => {
      const { searchParams } = new URL(request.url);
      const page = parseWith(visitsPageSchema, Object.fromEntries(OTHERS.map((name) => [name, searchParams.get(name) ?? undefined])));
      const { terms, issues } = termsFromParameters(searchParams, OTHERS);
      const wrong = [...(page.ok ? [] : page.issues), ...issues];
      if (!page.ok || wrong.length) throw new Refused(422, 'query.shape', wrong.map(issueWords).join('; '), wrong);
      const { ids, ...sizes } = await analyse({ kind: 'visits', site: siteId, terms, ...page.value }, { signal });
      return { ...sizes, list: await listSomeVisits(await readingOf(siteId), siteId, ids) };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/visits/some',
    right: 'look',
    says: 'Recorded visits by their ids',
    body: someVisitsSchema,
    answers: 'The visits with their page views, signals and showings',
    run: async ({ member: { siteId }, body: { visits } }) => {
      return listSomeVisits(await readingOf(siteId), siteId, visits);
    },
  }),
] as const;
