import { DAY_MS } from '@/core/time/day';
import { analyse } from '../analysis/analyse';
import { changing } from '../db/changing';
import { leaveGoal, saveGoal, setMainGoal } from '../db/goals';
import { newId } from '../db/ids';
import { moveToTrash } from '../db/trash';
import { goals, insertPageSet, pageSets } from '../db/vocabulary';
import { Refused } from '../http/refused';
import { changedGoalSchema, changedPageSetSchema, goalToSaveSchema, mainGoalSchema, pageSetSchema, reachedSchema } from '../http/requests';
import { usersInWords, usersOf } from '../segments/users';
import { reachedByDay } from '../today/course';
import { endpoint } from './endpoint';

const DAYS = 30;

export const vocabularyEndpoints = [
  endpoint({
    method: 'PUT',
    path: '/api/goals/{id}',
    right: 'edit',
    says: 'Save a goal, for every campaign that counts it',
    body: changedGoalSchema,
    answers: 'Its new revision',
    run: async ({ member, body: { name, goal, revision }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await goals.find(db, siteId, id);
        if (!before) throw new Refused(404, 'notFound', 'This goal was deleted elsewhere. What you typed is still here.');
        const saved = await saveGoal(db, siteId, { id, name, goal, revision });
        await note({
          kind: 'goal',
          subject: id,
          name,
          did: 'changed',
          before: { name: before.name, goal: before.goal },
          after: { name, goal },
        });
        return { revision: saved };
      });
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/goals/{id}',
    right: 'edit',
    says: 'Delete a goal; whoever counts it keeps it as their own',
    answers: 'Nothing more',
    run: async ({ member, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await goals.find(db, siteId, id);
        await leaveGoal(db, siteId, id);
        await moveToTrash(db, 'goal', siteId, id);
        if (before)
          await note({
            kind: 'goal',
            subject: id,
            name: before.name,
            did: 'deleted',
            before: { name: before.name, goal: before.goal },
          });
      });
    },
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
    run: async ({ member, body: { name, goal } }) => {
      const { siteId } = member;
      const id = newId('goal');
      return changing(member, async (db, note) => {
        await goals.insert(db, siteId, { id, name, body: goal });
        await note({ kind: 'goal', subject: id, name, did: 'made', after: { name, goal } });
        return { id };
      });
    },
  }),
  endpoint({
    method: 'PUT',
    path: '/api/page-sets/{id}',
    right: 'edit',
    says: 'Save a page set',
    body: changedPageSetSchema,
    answers: 'Its new revision',
    run: async ({ member, body: { name, patterns, revision }, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const before = await pageSets.find(db, siteId, id);
        if (!before) throw new Refused(404, 'notFound', 'This page set was deleted elsewhere. What you typed is still here.');
        const saved = await pageSets.update(db, siteId, { id, name, body: patterns, revision });
        await note({
          kind: 'page set',
          subject: id,
          name,
          did: 'changed',
          before: { name: before.name, patterns: before.patterns },
          after: { name, patterns },
        });
        return { revision: saved };
      });
    },
  }),
  endpoint({
    method: 'DELETE',
    path: '/api/page-sets/{id}',
    right: 'edit',
    says: 'Delete a page set that nothing names',
    answers: 'Nothing more',
    run: async ({ member, params: { id } }) => {
      const { siteId } = member;
      return changing(member, async (db, note) => {
        const users = await usersOf(db, siteId, 'sets', id);
        if (users.length) throw new Refused(409, 'pageSet.used', `It is used by ${usersInWords(users)}. Take it out there first.`);
        const before = await pageSets.find(db, siteId, id);
        await moveToTrash(db, 'page_set', siteId, id);
        if (before)
          await note({
            kind: 'page set',
            subject: id,
            name: before.name,
            did: 'deleted',
            before: { name: before.name, patterns: before.patterns },
          });
      });
    },
  }),
  endpoint({
    method: 'POST',
    path: '/api/page-sets',
    right: 'edit',
    says: 'A new page set',
    body: pageSetSchema,
    answers: 'Its id',
    run: async ({ member, body: { name, patterns } }) => {
      const { siteId } = member;
      const id = newId('set');
      return changing(member, async (db, note) => {
        await insertPageSet(db, siteId, { id, name, patterns });
        await note({ kind: 'page set', subject: id, name, did: 'made', after: { name, patterns } });
        return { id };
      });
    },
  }),
] as const;
