import type { CampaignDocument } from '@/core/campaigns/campaign';
import { carryOutSchedules, insertCampaign, setCampaignStatus, setSchedule, updateCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { NotExactlyOneRow } from '../db/queryable';
import { findCurrentRelease, findServedRelease, listReleases } from '../db/releases';
import { createSite } from '../db/sites';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { goBack, prepareRelease, publish } from './publish';

let database: FreshDatabase;
let siteId: number;

const document = (name: string, path = '/huts/*'): CampaignDocument => ({
  name,
  goal: { kind: 'form' },
  rule: { pages: { on: [{ op: 'like', value: path }] }, moment: { kind: 'exit' } },
  flow: { start: 'a', messages: [{ id: 'a', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }] },
});
const out = () => publish(database.pool, { siteId, memberId: null, name: '', note: '' });
const served = async () => (await findServedRelease(database.pool, siteId))?.document.campaigns.map(({ id }) => id);

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
  await withTransaction(database.pool, async (tx) => {
    for (const id of ['one', 'two']) await insertCampaign(tx, { siteId, id, document: document(id), status: 'live' });
  });
});
afterEach(() => database.drop());

test('a campaign that is paused is held back at once and comes back as it was, under a hash of its own; one that is switched off goes with the next release', async () => {
  await out();
  const before = await findServedRelease(database.pool, siteId);
  await setCampaignStatus(database.pool, siteId, 'one', 'paused');
  const paused = await findServedRelease(database.pool, siteId);
  expect(paused?.document.campaigns.map(({ id }) => id)).toEqual(['two']);
  expect(paused?.published.campaigns.map(({ id }) => id)).toEqual(['one', 'two']);
  expect([paused?.number, paused?.hash === before?.hash]).toEqual([1, false]);
  await setCampaignStatus(database.pool, siteId, 'one', 'live');
  expect((await findServedRelease(database.pool, siteId))?.hash).toBe(before?.hash);
  expect((await findCurrentRelease(database.pool, siteId))?.number).toBe(1);
  await setCampaignStatus(database.pool, siteId, 'one', 'draft');
  expect(await served()).toEqual(['one', 'two']);
  await out();
  expect(await served()).toEqual(['two']);
});

test('a campaign begins and ends by itself at its instants, once it is published', async () => {
  const at = (ms: number): Date => new Date(Date.now() + ms);
  const force = (column: 'starts_at' | 'ends_at') =>
    database.pool.query(`update campaign set ${column} = now() - interval '1 second' where id = 'one'`);
  await setSchedule(database.pool, siteId, 'one', { startsAt: at(3_600_000), endsAt: at(7_200_000) });
  await out();
  expect(await served()).toEqual(['two']);
  expect(await carryOutSchedules(database.pool)).toBe(0);
  await force('starts_at');
  expect(await carryOutSchedules(database.pool)).toBe(1);
  expect(await served()).toEqual(['one', 'two']);
  expect(await carryOutSchedules(database.pool)).toBe(0);
  await database.pool.query(`update campaign set starts_at = now() - interval '1 hour' where id = 'one'`);
  await force('ends_at');
  expect(await carryOutSchedules(database.pool)).toBe(1);
  expect(await served()).toEqual(['two']);
  // Switched on by hand it goes on, and does not end again at once.
  await setCampaignStatus(database.pool, siteId, 'one', 'live');
  expect(await carryOutSchedules(database.pool)).toBe(0);
  await setSchedule(database.pool, siteId, 'one', { startsAt: null, endsAt: new Date(Date.now() - 1000) });
  expect(await carryOutSchedules(database.pool)).toBe(1);
  // Another end in the time to come makes a draft of it, not something that shows by surprise.
  await setSchedule(database.pool, siteId, 'one', { startsAt: null, endsAt: at(1000) });
  expect((await database.pool.query(`select status from campaign where id = 'one'`)).rows).toEqual([{ status: 'draft' }]);
  await expect(setSchedule(database.pool, siteId, 'one', { startsAt: at(9000), endsAt: at(1000) })).rejects.toMatchObject({
    code: '23514',
  });
});

test('a beginning that is taken away again lets what is out go on, and makes a draft of what never was', async () => {
  const later = new Date(Date.now() + 3_600_000);
  const statuses = async () =>
    (await database.pool.query(`select id, status from campaign order by id`)).rows as { id: string; status: string }[];
  await out();
  await setSchedule(database.pool, siteId, 'one', { startsAt: later, endsAt: null });
  expect(await served()).toEqual(['two']);
  await setSchedule(database.pool, siteId, 'one', { startsAt: null, endsAt: null });
  expect(await served()).toEqual(['one', 'two']);
  await insertCampaign(database.pool, { siteId, id: 'three', document: document('Three') });
  await setSchedule(database.pool, siteId, 'three', { startsAt: later, endsAt: null });
  await setSchedule(database.pool, siteId, 'three', { startsAt: null, endsAt: null });
  expect(await statuses()).toEqual([
    { id: 'one', status: 'live' },
    { id: 'three', status: 'draft' },
    { id: 'two', status: 'live' },
  ]);
});

test('going back is a release of its own: pages get what they got then, and what was written since waits as a draft', async () => {
  await out();
  const first = await findCurrentRelease(database.pool, siteId);
  await withTransaction(database.pool, (tx) =>
    updateCampaign(tx, { siteId, id: 'one', document: document('one', '/routes/*'), revision: 1 }),
  );
  await out();
  expect(await goBack(database.pool, { siteId, memberId: null, to: 1, note: 'too early' })).toBe(3);
  const third = await findCurrentRelease(database.pool, siteId);
  expect(third?.document).toEqual({ ...first?.document, number: 3 });
  expect((await listReleases(database.pool, siteId)).map(({ number, name, note, backTo }) => [number, name, note, backTo])).toEqual([
    [3, 'Back to 1: Release 1', 'too early', 1],
    [2, 'Release 2', '', null],
    [1, 'Release 1', '', null],
  ]);
  expect((await prepareRelease(database.pool, siteId)).changes).toEqual([
    { campaign: 'one', name: 'one', what: 'changed', words: ['is now on /routes/*', 'is no longer on /huts/*'] },
  ]);
  await expect(goBack(database.pool, { siteId, memberId: null, to: 9, note: '' })).rejects.toBeInstanceOf(NotExactlyOneRow);
});

test('collectors hear of a pause the moment it is committed', async () => {
  const listener = await database.pool.connect();
  const heard: string[] = [];
  listener.on('notification', ({ payload = '' }) => heard.push(payload));
  await listener.query('listen crindle');
  await setCampaignStatus(database.pool, siteId, 'one', 'paused');
  await listener.query('select 1');
  expect(heard).toEqual(['site sitekey123']);
  listener.release();
});
