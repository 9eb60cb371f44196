import type { CampaignDocument } from '@/core/campaigns/campaign';
import { insertCampaign, listCampaigns, setCampaignStatus, updateCampaign } from '../db/campaigns';
import { withTransaction } from '../db/pool';
import { findCurrentRelease, listReleases } from '../db/releases';
import { moveToTrash } from '../db/trash';
import { NameTaken, Outdated } from '../db/errors';
import { createMember } from '../db/members';
import { insertSegment, updateSegment } from '../db/segments';
import { createSite } from '../db/sites';
import { circleThrough } from '../segments/bodies';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { idsAsNames } from '@/core/pages/names';
import { noteChange } from '../db/changeLog';
import { historyOf } from './history';
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

test('an address that a site without values would make a script of is not published', async () => {
  const document = campaign({
    rule: { moment: { kind: 'exit' } },
    flow: {
      start: 'first',
      messages: [
        {
          id: 'first',
          format: 'popup',
          closes: { button: true, dim: true, escape: true },
          blocks: [
            { kind: 'buttons', buttons: [{ label: 'Book', does: [{ kind: 'page', url: '{site booking, or javascript:alert(1)}' }] }] },
          ],
        },
      ],
    },
  });
  // As it may have been saved before it was refused there.
  await save('camp_1', document);
  await expect(publishNow()).rejects.toMatchObject({ code: 'release.blocked' });
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

test('what changed since somebody looked is not published unseen, and who did it is named', async () => {
  await save('camp_1', campaign());
  const seen = (await prepareRelease(database.pool, siteId)).print;
  const publishSeen = (print: string) => publish(database.pool, { siteId, memberId: null, name: '', note: '', seen: print });
  expect(await publishSeen(seen)).toBe(1);
  // Published by somebody else meanwhile: nothing is left.
  await expect(publishSeen(seen)).rejects.toThrow(/nothing was published now\. Release 1 is of somebody, \d\d:\d\d UTC\. Nothing is left/);
  // Changed by somebody else meanwhile.
  const before = (await prepareRelease(database.pool, siteId)).print;
  await save('camp_2', campaign({ name: 'Another' }));
  await expect(publishSeen(before)).rejects.toThrow(/Release 2 would change: Another\./);
  expect((await findCurrentRelease(database.pool, siteId))?.number).toBe(1);
  // The same looked at again goes out.
  expect(await publishSeen((await prepareRelease(database.pool, siteId)).print)).toBe(2);
});

test('two who publish at once what they both looked at: one does, the other is told', async () => {
  await save('camp_1', campaign());
  const seen = (await prepareRelease(database.pool, siteId)).print;
  const both = await Promise.allSettled([1, 2].map(() => publish(database.pool, { siteId, memberId: null, name: '', note: '', seen })));
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect(await listReleases(database.pool, siteId)).toHaveLength(1);
});

test('a campaign’s history says what was done to it and what each release made of it', async () => {
  const history = async () =>
    (await historyOf(database.pool, siteId, 'camp_1', idsAsNames)).map(({ release, did, words }) => [release, did, words.join('; ')]);
  await save('camp_1', campaign());
  await save('camp_2', campaign({ name: 'Another' }));
  await publishNow();
  const ines = await createMember(database.pool, { email: 'ines@x.example', name: 'Ines', passwordHash: 'x' });
  const change = async (document: CampaignDocument) => {
    const [stored] = (await listCampaigns(database.pool, siteId)).filter(({ id }) => id === 'camp_1');
    await withTransaction(database.pool, (tx) => updateCampaign(tx, { siteId, id: 'camp_1', document, revision: stored?.revision ?? 0 }));
    await noteChange(
      database.pool,
      siteId,
      { id: ines, name: 'Ines' },
      { kind: 'campaign', subject: 'camp_1', name: 'x', did: 'changed', before: campaign(), after: document },
    );
  };
  await change(campaign({ rule: { moment: { kind: 'delay', seconds: 20 } } }));
  await publishNow();
  // A release that changed only another campaign is none of this one’s history.
  await setCampaignStatus(database.pool, siteId, 'camp_2', 'draft');
  await publishNow();
  await setCampaignStatus(database.pool, siteId, 'camp_1', 'draft');
  await publishNow();
  const lines = await history();
  expect(lines.map(([release, did]) => [release, did])).toEqual([
    [4, 'taken from visitors'],
    [2, 'changed for visitors'],
    [undefined, 'changed'],
    [1, 'given to visitors'],
  ]);
  expect(lines[1]?.[2]).toMatch(/stay for 20 s/);
  expect(lines[2]?.[2]).toBe(lines[1]?.[2]);
});
