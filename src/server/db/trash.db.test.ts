import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { bringBack, listTrash, moveToTrash } from './trash';
import { insertCampaign, listCampaigns } from './campaigns';
import { leaveEditing, noteEditing } from './editing';
import { createMember } from './members';
import { withTransaction } from './pool';
import { NotExactlyOneRow } from './queryable';
import { NameTaken } from './errors';
import { findSegment, insertSegment } from './segments';
import { createSite } from './sites';
import { insertPageSet, insertPlace, pageSets, places } from './vocabulary';

let database: FreshDatabase;
let siteId: number;
const segment = (id: string, name: string) =>
  insertSegment(database.pool, { siteId, id, name, lookback: 30, people: { kind: 'known', is: true } });

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
});
afterEach(() => database.drop());

test('what is deleted comes back as it was, each kind under its id', async () => {
  await segment('seg_1', 'Known people');
  await insertPlace(database.pool, siteId, { id: 'pl_1', name: 'Ridge', shape: { type: 'Circle', center: [11, 47], radius: 2000 } });
  await insertPageSet(database.pool, siteId, { id: 'set_1', name: 'Routes', patterns: [{ op: 'like', value: '/routes/**' }] });
  await withTransaction(database.pool, (tx) =>
    insertCampaign(tx, {
      siteId,
      id: 'camp_1',
      document: {
        name: 'Quiet weeks',
        goal: { kind: 'form' },
        rule: { moment: { kind: 'exit' } },
        flow: {
          start: 'first',
          messages: [{ id: 'first', format: 'popup', blocks: [], closes: { button: true, dim: true, escape: true } }],
        },
      },
    }),
  );
  const all = async () => [
    await findSegment(database.pool, siteId, 'seg_1'),
    await places.list(database.pool, siteId),
    await pageSets.list(database.pool, siteId),
    await listCampaigns(database.pool, siteId),
  ];
  const before = await all();
  const kinds = [
    ['segment', 'seg_1'],
    ['place', 'pl_1'],
    ['page_set', 'set_1'],
    ['campaign', 'camp_1'],
  ] as const;
  for (const [kind, id] of kinds) await moveToTrash(database.pool, kind, siteId, id);
  expect(await all()).toEqual([undefined, [], [], []]);
  for (const [kind, id] of kinds) await bringBack(database.pool, kind, siteId, id);
  expect(await all()).toEqual(before);
});

test('it comes back once, to its own site, and not where its name has been taken meanwhile', async () => {
  const other = (await createSite(database.pool, { key: 'othersite1', name: 'Other', addresses: ['other.example'] })).id;
  await segment('seg_1', 'Known people');
  await moveToTrash(database.pool, 'segment', siteId, 'seg_1');
  await expect(moveToTrash(database.pool, 'segment', siteId, 'seg_1')).rejects.toThrow(NotExactlyOneRow);
  await expect(bringBack(database.pool, 'segment', other, 'seg_1')).rejects.toThrow(NotExactlyOneRow);
  await segment('seg_2', 'Known people');
  await expect(bringBack(database.pool, 'segment', siteId, 'seg_1')).rejects.toThrow(NameTaken);
  await moveToTrash(database.pool, 'segment', siteId, 'seg_2');
  await bringBack(database.pool, 'segment', siteId, 'seg_1');
  await expect(bringBack(database.pool, 'segment', siteId, 'seg_1')).rejects.toThrow(NotExactlyOneRow);
});

test('editors hear of each other, until one leaves or falls silent', async () => {
  await segment('seg_1', 'Known people');
  const member = (name: string) => createMember(database.pool, { email: `${name}@site.example`, name, passwordHash: 'x' });
  const [ines, tom] = [await member('Ines'), await member('Tom')];
  const tabs = ['a', 'b', 'c'].map((letter) => `${letter.repeat(8)}-0000-4000-8000-000000000000`);
  const note = (tab: number, memberId: number, id = 'seg_1') =>
    noteEditing(database.pool, { siteId, kind: 'segment', id, tab: tabs[tab] as string, memberId });
  expect(await note(0, ines)).toEqual({ beside: [], revision: 1 });
  expect(await note(1, tom)).toEqual({ beside: [{ name: 'Ines', isSelf: false }], revision: 1 });
  expect((await note(2, ines)).beside).toEqual([
    { name: 'Ines', isSelf: true },
    { name: 'Tom', isSelf: false },
  ]);
  expect(await note(0, ines, 'seg_2')).toEqual({ beside: [], revision: null });
  await leaveEditing(database.pool, { siteId, kind: 'segment', id: 'seg_1', tab: tabs[2] as string });
  await database.pool.query(`update editing set seen_at = now() - interval '25 seconds' where member_id = $1`, [tom]);
  expect((await note(0, ines)).beside).toEqual([]);
});

test('what was deleted before a column was added comes back with what new rows have in it', async () => {
  await segment('seg_1', 'Known people');
  await moveToTrash(database.pool, 'segment', siteId, 'seg_1');
  await database.pool.query(`alter table segment add column colour text not null default 'none'`);
  await bringBack(database.pool, 'segment', siteId, 'seg_1');
  expect((await database.pool.query(`select name, colour from segment`)).rows).toEqual([{ name: 'Known people', colour: 'none' }]);
});

test('what was deleted before a column was taken away comes back without it', async () => {
  await database.pool.query(`alter table segment add column colour text not null default 'none'`);
  await segment('seg_1', 'Known people');
  await moveToTrash(database.pool, 'segment', siteId, 'seg_1');
  await database.pool.query(`alter table segment drop column colour`);
  await bringBack(database.pool, 'segment', siteId, 'seg_1');
  expect((await findSegment(database.pool, siteId, 'seg_1'))?.name).toBe('Known people');
});

test('what was deleted is listed with when it goes for good, the latest first, of this site and of thirty days', async () => {
  const other = (await createSite(database.pool, { key: 'othersite1', name: 'Other', addresses: ['other.example'] })).id;
  await insertSegment(database.pool, {
    siteId: other,
    id: 'seg_o',
    name: 'Of the other',
    lookback: 30,
    people: { kind: 'known', is: true },
  });
  await moveToTrash(database.pool, 'segment', other, 'seg_o');
  for (const [id, name] of [
    ['seg_1', 'First'],
    ['seg_2', 'Second'],
    ['seg_3', 'Long ago'],
  ] as const) {
    await segment(id, name);
    await moveToTrash(database.pool, 'segment', siteId, id);
  }
  await database.pool.query(`update trash set deleted_at = now() - interval '31 days' where id = 'seg_3'`);
  await database.pool.query(`update trash set deleted_at = now() - interval '2 days' where id = 'seg_1'`);
  const listed = await listTrash(database.pool, siteId);
  expect(listed.map(({ kind, name }) => [kind, name])).toEqual([
    ['segment', 'Second'],
    ['segment', 'First'],
  ]);
  for (const { at, goesAt } of listed) expect(goesAt.getTime() - at.getTime()).toBeGreaterThan(29.9 * 86_400_000);
});
