import type { CampaignDocument } from '@/core/campaigns/campaign';
import { insertCampaign, listCampaigns, setCampaignStatus, updateCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { findCurrentRelease, listReleases } from '../db/releases';
import { moveToTrash } from '../db/trash';
import { NameTaken, Outdated } from '../db/errors';
import { insertSegment, updateSegment } from '../db/segments';
import { createSite } from '../db/sites';
import { circleThrough } from '../segments/bodies';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { prepareRelease, publish } from './publish';

let database: FreshDatabase;
let siteId: number;
const people = { kind: 'viewed' as const, pages: [{ op: 'like' as const, value: '/huts/*' }], times: { min: 2 } };
const campaign = (overrides: Partial<CampaignDocument> = {}): CampaignDocument => ({
  name: 'Quiet weeks',
  goal: { kind: 'form' },
  rule: { people: { kind: 'segment', id: 'seg_1' }, moment: { kind: 'exit' } },
  flow: { start: 'first', messages: [{ id: 'first', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }] },
  ...overrides,
});
const save = (id: string, document: CampaignDocument) =>
  withTransaction(database.pool, (tx) => insertCampaign(tx, { siteId, id, document, status: 'live' }));
const publishNow = (name = '') => publish(database.pool, { siteId, memberId: null, name, note: '' });
const changes = async () => (await prepareRelease(database.pool, siteId)).changes.map(({ campaign: id, what }) => `${id} ${what}`);

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
  await insertSegment(database.pool, { siteId, id: 'seg_1', name: 'Comparing', lookback: 30, people });
});
afterEach(() => database.drop());

test('a release is numbered, and what stands in it is the segment written out', async () => {
  await save('camp_1', campaign());
  expect([await publishNow(), await publishNow()]).toEqual([1, 2]);
  const current = await findCurrentRelease(database.pool, siteId);
  expect(current?.facts).toEqual([{ ...people, within: 30 }]);
  expect(await listReleases(database.pool, siteId)).toMatchObject([{ number: 2, name: 'Release 2', campaigns: 1 }, { number: 1 }]);
});

test('what changed is told against what is live, and nothing is told where nothing changed', async () => {
  expect(await changes()).toEqual([]);
  await save('camp_1', campaign());
  expect(await changes()).toEqual(['camp_1 added']);
  await publishNow();
  expect(await changes()).toEqual([]);
  await save('camp_2', campaign({ name: 'Other', rule: { people: { kind: 'known', is: true } } }));
  await publishNow();
  const [, second] = await listCampaigns(database.pool, siteId);
  await withTransaction(database.pool, (tx) =>
    updateCampaign(tx, { siteId, id: 'camp_2', document: campaign({ name: 'Other' }), revision: second?.revision ?? 0 }),
  );
  await setCampaignStatus(database.pool, siteId, 'camp_1', 'paused');
  expect(await changes()).toEqual(['camp_2 changed', 'camp_1 removed']);
});

test('a changed segment changes the campaigns that ask for it', async () => {
  await save('camp_1', campaign());
  await publishNow();
  await updateSegment(database.pool, { siteId, id: 'seg_1', name: 'Comparing', lookback: 60, people, revision: 1 });
  expect(await changes()).toEqual(['camp_1 changed']);
});

test('a campaign whose segment is gone, or whose message cannot be closed, is not published', async () => {
  await save(
    'camp_1',
    campaign({
      flow: {
        start: 'first',
        messages: [{ id: 'first', format: 'popup', blocks: [], closes: { button: false, dim: false, escape: false } }],
      },
    }),
  );
  await moveToTrash(database.pool, 'segment', siteId, 'seg_1');
  await expect(publishNow()).rejects.toMatchObject({
    code: 'release.blocked',
    blockers: [
      { reason: expect.stringContaining('no longer exists') as string },
      { reason: expect.stringContaining('no way to close') as string },
    ],
  });
  expect(await findCurrentRelease(database.pool, siteId)).toBeUndefined();
});

test('two people publishing at once get two numbers', async () => {
  await save('camp_1', campaign());
  const numbers = await Promise.all([publishNow('a'), publishNow('b'), publishNow('c')]);
  expect(numbers.sort()).toEqual([1, 2, 3]);
});

test('a release cannot be changed afterwards', async () => {
  await save('camp_1', campaign());
  await publishNow();
  await expect(database.pool.query(`update release set document = '{}' where site_id = $1`, [siteId])).rejects.toThrow('immutable');
});

test('saving what somebody else changed meanwhile is refused, and so is a name that is taken', async () => {
  const save2 = { siteId, id: 'seg_1', name: 'Mine', lookback: 30, people, revision: 1 };
  await updateSegment(database.pool, { ...save2, name: 'Theirs' });
  await expect(updateSegment(database.pool, save2)).rejects.toThrow(Outdated);
  await expect(insertSegment(database.pool, { siteId, id: 'seg_2', name: 'Theirs', lookback: 30, people })).rejects.toThrow(NameTaken);
});

test('a circle of segments is found however long it is', () => {
  const segments = {
    b: { lookback: 1, people: { kind: 'segment' as const, id: 'c' } },
    c: { lookback: 1, people: { none: [{ kind: 'segment' as const, id: 'a' }] } },
  };
  expect(
    circleThrough(
      'a',
      {
        any: [
          { kind: 'known', is: true },
          { kind: 'segment', id: 'b' },
        ],
      },
      segments,
    ),
  ).toEqual(['a', 'b', 'c', 'a']);
  expect(circleThrough('d', { kind: 'segment', id: 'b' }, segments)).toBeUndefined();
});
