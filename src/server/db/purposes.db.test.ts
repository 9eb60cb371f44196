import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { findCampaign, insertCampaign, updateCampaign } from './campaigns';
import { NameTaken, Outdated } from './errors';
import { withTransaction } from './pool';
import { listPurposes, lockPurposeOf, makePurpose, renamePurpose, setPurpose, spreadShared } from './purposes';
import { NotExactlyOneRow } from './queryable';
import { createSite } from './sites';
import { bringBack, moveToTrash } from './trash';

let database: FreshDatabase;
let siteId: number;

const document = (name: string, rule: CampaignDocument['rule'] = {}): CampaignDocument => ({
  name,
  goal: { kind: 'form' },
  rule,
  flow: { start: 'a', messages: [{ id: 'a', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }] },
});
const insert = (id: string, rule: CampaignDocument['rule']) =>
  withTransaction(database.pool, (tx) => insertCampaign(tx, { siteId, id, document: document(id, rule) }));
const make = (id: string, name: string, campaign: string) =>
  withTransaction(database.pool, (tx) => makePurpose(tx, siteId, { id, name, campaign }));
const join = (campaign: string, purpose: string | null) =>
  withTransaction(database.pool, (tx) => setPurpose(tx, siteId, { campaign, purpose }));
const find = async (id: string) => {
  const met = await findCampaign(database.pool, siteId, id);
  if (!met) throw new Error(`${id} is not there`);
  return met;
};
/** As the studio saves. */
async function save(id: string, change: (rule: CampaignDocument['rule']) => CampaignDocument['rule'], given?: number): Promise<number> {
  const { name, goal, rule, flow, revision } = await find(id);
  const next = { name, goal, flow, rule: change(rule) };
  return withTransaction(database.pool, async (tx) => {
    const purpose = await lockPurposeOf(tx, siteId, id);
    await updateCampaign(tx, { siteId, id, document: next, revision: given ?? revision });
    return purpose ? spreadShared(tx, siteId, { purpose, campaign: id, document: next }) : 0;
  });
}

const known = { kind: 'known' as const, is: true };
const pages = { on: [{ op: 'like' as const, value: '/huts/*' }] };

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
  await insert('popup', { people: known, pages, moment: { kind: 'exit' } });
  await insert('inset', { moment: { kind: 'open' } });
  await insert('banner', { pages: { on: [{ op: 'is', value: '/' }] }, pacing: { alone: true } });
  await make('p', 'Hut letter', 'popup');
});
afterEach(() => database.drop());

test('who joins takes over who, where and success, and what one of them says later holds for all; moments and pacing stay', async () => {
  await join('inset', 'p');
  await join('banner', 'p');
  expect((await find('inset')).rule).toEqual({ people: known, pages, moment: { kind: 'open' } });
  expect((await find('banner')).rule).toEqual({ people: known, pages, pacing: { alone: true } });
  const elsewhere = { on: [{ op: 'like' as const, value: '/routes/**' }] };
  expect(await save('inset', ({ people: _people, ...rule }) => ({ ...rule, pages: elsewhere }))).toBe(2);
  expect((await find('popup')).rule).toEqual({ pages: elsewhere, moment: { kind: 'exit' } });
  expect((await find('banner')).rule).toEqual({ pages: elsewhere, pacing: { alone: true } });
  // What is its own changes nobody else, whose editors stay as they are.
  const { revision } = await find('popup');
  expect(await save('inset', (rule) => ({ ...rule, moment: { kind: 'idle', seconds: 9 } }))).toBe(0);
  expect((await find('popup')).revision).toBe(revision);
  expect(await listPurposes(database.pool, siteId)).toEqual([
    { id: 'p', name: 'Hut letter', campaigns: ['popup', 'inset', 'banner'].map((id) => ({ id, name: id, isLive: false })) },
  ]);
});

test('who leaves keeps what it has, and a purpose that nobody is of is gone', async () => {
  await join('inset', 'p');
  await join('popup', null);
  expect((await find('popup')).rule.people).toEqual(known);
  await save('inset', (rule) => ({ ...rule, people: { kind: 'known', is: false } }));
  expect((await find('popup')).rule.people).toEqual(known);
  await join('inset', null);
  expect(await listPurposes(database.pool, siteId)).toEqual([]);
});

test('a campaign that comes back from the trash is of its purpose again, or of none if that is gone', async () => {
  await moveToTrash(database.pool, 'campaign', siteId, 'popup');
  expect(await listPurposes(database.pool, siteId)).toEqual([]);
  await bringBack(database.pool, 'campaign', siteId, 'popup');
  expect((await find('popup')).purpose).toBe('p');
  await moveToTrash(database.pool, 'campaign', siteId, 'popup');
  await make('q', 'Another', 'inset');
  await bringBack(database.pool, 'campaign', siteId, 'popup');
  expect((await find('popup')).purpose).toBeNull();
});

test('two forms saved at once end alike, and an editor that was overtaken is told so', async () => {
  await join('inset', 'p');
  const { revision } = await find('inset');
  await Promise.all([
    save('popup', (rule) => ({ ...rule, people: { kind: 'known', is: false } })),
    save('inset', (rule) => ({ ...rule, people: { kind: 'visits', times: { min: 3 } } })).catch((cause: unknown) => {
      if (!(cause instanceof Outdated)) throw cause;
    }),
    join('banner', 'p'),
    make('r', 'Third', 'banner').catch((cause: unknown) => cause),
  ]);
  const all = await Promise.all(['popup', 'inset'].map(find));
  expect(all[0]?.rule.people).toEqual(all[1]?.rule.people);
  await expect(save('inset', (rule) => rule, revision)).rejects.toBeInstanceOf(Outdated);
});

test('a name that is taken, a purpose and a campaign that are not there are refused, and nothing is changed', async () => {
  await expect(make('q', 'Hut letter', 'inset')).rejects.toBeInstanceOf(NameTaken);
  await expect(join('inset', 'nothing')).rejects.toBeInstanceOf(NotExactlyOneRow);
  await expect(make('q', 'Another', 'nothing')).rejects.toBeInstanceOf(NotExactlyOneRow);
  await expect(renamePurpose(database.pool, siteId, { id: 'nothing', name: 'x' })).rejects.toBeInstanceOf(NotExactlyOneRow);
  expect((await find('inset')).rule).toEqual({ moment: { kind: 'open' } });
});
