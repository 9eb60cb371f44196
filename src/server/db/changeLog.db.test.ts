import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { listChanges, LOG_PAGE, noteChange } from './changeLog';
import { createSite } from './sites';

let database: FreshDatabase;
let siteId: number;
const ines = { id: 1, name: 'Ines Rauch' };
const tom = { id: 2, name: 'Tom Falk' };
const list = { kind: 'campaign', subject: 'camp_1', name: 'Packing list' } as const;
const lines = async (given?: Parameters<typeof listChanges>[2]) =>
  (await listChanges(database.pool, siteId, given)).map(({ member, name, did, before, after }) => [member, name, did, before, after]);

beforeEach(async () => {
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
});
afterEach(() => database.drop());

test('changes of one thing by one person are one line, from before the first to after the last; anybody else’s, and anything else, are their own', async () => {
  const note = (by: typeof ines | null, given: Partial<Parameters<typeof noteChange>[3]>) =>
    noteChange(database.pool, siteId, by, { ...list, did: 'changed', ...given });
  await note(ines, { before: { a: 1 }, after: { a: 2 } });
  await note(ines, { before: { a: 2 }, after: { a: 3 }, name: 'The list' });
  expect(await lines()).toEqual([['Ines Rauch', 'The list', 'changed', { a: 1 }, { a: 3 }]]);
  await note(tom, { before: { a: 3 }, after: { a: 4 } });
  await note(ines, { before: { a: 4 }, after: { a: 5 } });
  await note(ines, { did: 'paused' });
  await note(ines, { did: 'paused' });
  await note(null, { did: 'ended, as set' });
  await note(ines, { before: { a: 5 }, after: { a: 6 } });
  expect((await lines()).map(([member, , did]) => [member, did])).toEqual([
    ['Ines Rauch', 'changed'],
    [null, 'ended, as set'],
    ['Ines Rauch', 'paused'],
    ['Ines Rauch', 'paused'],
    ['Ines Rauch', 'changed'],
    ['Tom Falk', 'changed'],
    ['Ines Rauch', 'changed'],
  ]);
  // After a while it is another change.
  await database.pool.query(`update change_log set at = at - interval '11 minutes'`);
  await note(ines, { before: { a: 6 }, after: { a: 7 } });
  expect(await lines()).toHaveLength(8);
});

test('the log is searched by who, what and its name, and read on page by page', async () => {
  for (let number = 0; number < LOG_PAGE + 5; number++)
    await noteChange(database.pool, siteId, tom, { kind: 'release', subject: String(number), name: `Release ${number}`, did: 'published' });
  await noteChange(database.pool, siteId, ines, { ...list, did: 'paused' });
  expect(await lines({ text: 'PACKING' })).toHaveLength(1);
  expect(await lines({ text: 'ines' })).toHaveLength(1);
  expect(await lines({ text: "100% of ' nothing" })).toEqual([]);
  const first = await listChanges(database.pool, siteId);
  const next = await listChanges(database.pool, siteId, { olderThan: first.at(-1)?.id });
  expect([first.length, next.length]).toEqual([LOG_PAGE, 6]);
  expect(new Set([...first, ...next].map(({ id }) => id)).size).toBe(LOG_PAGE + 6);
  expect(await listChanges(database.pool, siteId + 1)).toEqual([]);
});
