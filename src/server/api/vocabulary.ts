import type { z } from 'zod';
import type { StoredPageSet } from '../db/vocabulary';
import { DAY_MS } from '@/core/time/day';
import { analyse } from '../analysis/analyse';
import { changing } from '../db/changing';
import { leaveGoal, saveGoal, setMainGoal } from '../db/goals';
import { goals, insertPageSet, pageSets } from '../db/vocabulary';
import { Refused } from '../http/refused';
import { changedGoalSchema, changedPageSetSchema, goalToSaveSchema, mainGoalSchema, pageSetSchema, reachedSchema } from '../http/requests';
import { reachedByDay } from '../today/course';
import { edited } from './edited';
import { endpoint } from './endpoint';

const DAYS = 30;

const goal = edited({
  table: 'goal',
  log: 'goal',
  prefix: 'goal',
  find: (db, siteId, id) => goals.find(db, siteId, id),
  insert: async (db, siteId, id, { name, goal: body }) => {
    await goals.insert(db, siteId, { id, name, body });
    return { id };
  },
  update: async (db, siteId, id, given) => ({ revision: await saveGoal(db, siteId, { ...given, id }) }),
  written: ({ name, goal: body }: z.infer<typeof goalToSaveSchema>) => ({ name, goal: body }),
  leave: leaveGoal,
});

const pageSet = edited({
  table: 'page_set',
  log: 'page set',
  prefix: 'set',
  usedAs: 'sets',
  find: (db, siteId, id) => pageSets.find(db, siteId, id),
  insert: async (db, siteId, id, given) => {
    await insertPageSet(db, siteId, { ...given, id });
    return { id };
  },
  update: async (db, siteId, id, { name, patterns, revision }) => ({
    revision: await pageSets.update(db, siteId, { id, name, body: patterns, revision }),
  }),
  written: ({ name, patterns }: Pick<StoredPageSet, 'name' | 'patterns'>) => ({ name, patterns }),
});

export const vocabularyEndpoints = [
  endpoint({
    method: 'PUT',
    path: '/api/goals/{id}',
    right: 'edit',
    says: 'Save a goal, for every campaign that counts it',
    body: changedGoalSchema,
    answers: 'Its new revision',
    run: goal.save,
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/goals/{id}',
    right: 'edit',
    says: 'Delete a goal; whoever counts it keeps it as their own',
    answers: 'Nothing more',
    run: goal.remove,
  }),
  endpoint({
    method: 'PUT',
    path: '/api/goals/main',
    right: 'edit',
    says: 'Choose the goal that the site is there for',
    body: mainGoalSchema,
    answers: 'Nothing more',
    run: async ({ member, body: { goal } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        if (!(await setMainGoal(db, siteId, goal))) throw new Refused(404, 'notFound', 'That goal is not here any more');
        const named = goal === null ? undefined : await goals.find(db, siteId, goal);
        await note({
          kind: 'setup',
          subject: 'main goal',
          name: named ? `Main goal: ${named.name}` : 'Main goal',
          did: goal === null ? 'taken away' : 'chosen',
        });
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/goals/reached',
    right: 'look',
    says: 'How often a goal, saved or not, was reached in the last thirty days',
    body: reachedSchema,
    answers: 'How often, by how many visitors, and by day',
    run: async ({ member: { siteId }, body: { goal, zone }, signal }) => {
      const now = Date.now();
      const { quarters, visitors } = await analyse({ kind: 'reached', site: siteId, goal, since: now - DAYS * DAY_MS, now }, { signal });
      return {
        times: quarters.reduce((sum, [, times]) => sum + times, 0),
        visitors,
        days: reachedByDay(quarters, { zone, now, days: DAYS }),
      };
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/goals',
    right: 'edit',
    says: 'A new goal',
    body: goalToSaveSchema,
    answers: 'Its id',
    run: goal.make,
  }),
  endpoint({
    method: 'PUT',
    path: '/api/page-sets/{id}',
    right: 'edit',
    says: 'Save a page set',
    body: changedPageSetSchema,
    answers: 'Its new revision',
    run: pageSet.save,
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/page-sets/{id}',
    right: 'edit',
    says: 'Delete a page set that nothing names',
    answers: 'Nothing more',
    run: pageSet.remove,
  }),
  endpoint({
    method: 'POST',
    path: '/api/page-sets',
    right: 'edit',
    says: 'A new page set',
    body: pageSetSchema,
    answers: 'Its id',
    run: pageSet.make,
  }),
] as const;
