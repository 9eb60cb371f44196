import type { CampaignDocument, Goal, SiteGoal } from '@/core/campaigns/campaign';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { findCampaign, insertCampaign, updateCampaign } from './campaigns';
import { Outdated } from './errors';
import { findMainGoal, leaveGoal, listGoals, saveGoal, setMainGoal } from './goals';
import { withTransaction } from './pool';
import { makePurpose, setPurpose } from './purposes';
import { createSite } from './sites';
import { goals } from './vocabulary';

let database: FreshDatabase;
let siteId: number;
beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: [] })).id;
  await goals.insert(database.pool, siteId, { id: 'goal_a', name: 'Booked', body: BOOKED });
});
afterEach(() => database.drop());

const BOOKED: SiteGoal = { kind: 'event', event: 'booking', days: 3 };
const LATER: SiteGoal = { kind: 'page', pages: [{ op: 'is', value: '/done' }], days: 7, value: 20 };
const campaign = (name: string, goal: Goal): CampaignDocument => ({
  name,
  goal,
  rule: {},
  flow: {
    start: 'a',
    messages: [{ id: 'a', format: 'popup', blocks: [{ kind: 'heading', text: 'x' }], closes: { button: true, dim: true, escape: true } }],
  },
});
const insert = (id: string, goal: Goal) =>
  withTransaction(database.pool, (tx) => insertCampaign(tx, { siteId, id, document: campaign(id, goal), status: 'draft' }));
const goalOf = async (id: string) => (await findCampaign(database.pool, siteId, id))?.goal;

test('a changed goal is changed in every campaign that counts it, and in what its purpose shares; others keep theirs', async () => {
  await insert('one', { ...BOOKED, named: 'goal_a' });
  await insert('two', BOOKED);
  await insert('three', { kind: 'form' });
  await withTransaction(database.pool, (tx) => makePurpose(tx, siteId, { id: 'purpose', name: 'P', campaign: 'one' }));
  expect(await withTransaction(database.pool, (tx) => saveGoal(tx, siteId, { id: 'goal_a', name: 'Paid', goal: LATER, revision: 1 }))).toBe(
    2,
  );
  expect([await goalOf('one'), await goalOf('two'), await goalOf('three')]).toEqual([
    { ...LATER, named: 'goal_a' },
    BOOKED,
    { kind: 'form' },
  ]);
  // Whoever joins the purpose counts it as it is now.
  await withTransaction(database.pool, (tx) => setPurpose(tx, siteId, { campaign: 'three', purpose: 'purpose' }));
  expect(await goalOf('three')).toEqual({ ...LATER, named: 'goal_a' });
  expect((await listGoals(database.pool, siteId)).map(({ name, campaigns }) => [name, campaigns.map(({ id }) => id)])).toEqual([
    ['Paid', ['one', 'three']],
  ]);
  await expect(
    withTransaction(database.pool, (tx) => saveGoal(tx, siteId, { id: 'goal_a', name: 'x', goal: BOOKED, revision: 1 })),
  ).rejects.toThrow(Outdated);
  expect(await goalOf('one')).toEqual({ ...LATER, named: 'goal_a' });
});

test('an editor that holds a goal as it was saves it as it is; one that names a goal that is gone saves its own', async () => {
  await insert('one', { ...LATER, named: 'goal_a' });
  expect(await goalOf('one')).toEqual({ ...BOOKED, named: 'goal_a' });
  await insert('two', { ...LATER, named: 'goal_of_another_site' });
  expect(await goalOf('two')).toEqual(LATER);
  await withTransaction(database.pool, (tx) =>
    updateCampaign(tx, { siteId, id: 'two', document: campaign('two', { ...LATER, named: 'goal_a' }), revision: 1 }),
  );
  expect(await goalOf('two')).toEqual({ ...BOOKED, named: 'goal_a' });
});

test('who counted a goal that is deleted keeps it as their own, and the site has no main goal any more', async () => {
  await insert('one', { ...BOOKED, named: 'goal_a' });
  expect(await setMainGoal(database.pool, siteId, 'goal_a')).toBe(true);
  expect((await findMainGoal(database.pool, siteId))?.name).toBe('Booked');
  expect(await setMainGoal(database.pool, siteId, 'goal_of_another_site')).toBe(false);
  expect((await listGoals(database.pool, siteId)).map(({ isMain }) => isMain)).toEqual([true]);
  await withTransaction(database.pool, (tx) => leaveGoal(tx, siteId, 'goal_a'));
  expect(await goalOf('one')).toEqual(BOOKED);
  expect(await findMainGoal(database.pool, siteId)).toBeUndefined();
  expect(await setMainGoal(database.pool, siteId, null)).toBe(true);
});
