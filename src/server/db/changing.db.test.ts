import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { publish } from '../releases/publish';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { listChanges } from './changeLog';
import { changing } from './changing';
import type { Member } from './members';
import { createMember, joinSite } from './members';
import { many } from './queryable';
import { createSite } from './sites';
import { insertPlace } from './vocabulary';

let database: FreshDatabase;
let member: Member;
const shared = globalThis as { crindlePool?: unknown; crindleDirectory?: unknown };

beforeEach(async () => {
  database = await freshDatabase();
  shared.crindlePool = database.pool;
  const { id: siteId } = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
  const id = await createMember(database.pool, { email: 'ines@site.example', name: 'Ines', passwordHash: '' });
  await joinSite(database.pool, { siteId, memberId: id, role: 'owner' });
  member = { id, siteId, name: 'Ines', email: 'ines@site.example', role: 'owner' };
});
afterEach(async () => {
  delete shared.crindlePool;
  delete shared.crindleDirectory;
  await database.drop();
});

const place = (id: string) => ({ id, name: id, shape: { type: 'Circle' as const, center: [11, 47] as [number, number], radius: 2000 } });
const made = (id: string): Promise<void> =>
  changing(member, async (db, note) => {
    await insertPlace(db, member.siteId, place(id));
    await note({ kind: 'place', subject: id, name: id, did: 'made' });
  });
const places = async (): Promise<unknown[]> =>
  (await many<{ id: string }>(database.pool, `select id from place order by id`)).map(({ id }) => id);

test('a change and its line in the log are there together, with who did it', async () => {
  await made('hut');
  expect(await places()).toEqual(['hut']);
  expect(await listChanges(database.pool, member.siteId)).toMatchObject([{ member: 'Ines', kind: 'place', subject: 'hut', did: 'made' }]);
});

test('where the log cannot be written nothing is changed', async () => {
  await database.pool.query(`alter table change_log add constraint full_log check (false) not valid`);
  await expect(made('hut')).rejects.toThrow('full_log');
  expect(await places()).toEqual([]);
});

test('where the change fails after it was noted, nothing was noted', async () => {
  const failing = changing(member, async (db, note) => {
    await note({ kind: 'place', subject: 'hut', name: 'hut', did: 'made' });
    await insertPlace(db, member.siteId, place('hut'));
    throw new Error('on second thoughts');
  });
  await expect(failing).rejects.toThrow('on second thoughts');
  expect([await places(), await listChanges(database.pool, member.siteId)]).toEqual([[], []]);
});

test('what has a transaction of its own is part of the change', async () => {
  await database.pool.query(`alter table change_log add constraint full_log check (false) not valid`);
  const publishing = changing(member, async (db, note) => {
    const number = await publish(db, { siteId: member.siteId, memberId: member.id, name: '', note: '' });
    await note({ kind: 'release', subject: String(number), name: 'Release', did: 'published' });
  });
  await expect(publishing).rejects.toThrow('full_log');
  expect(await many(database.pool, `select number from release`)).toEqual([]);
});

test('no request notes a change beside what it changes', () => {
  const requests = readdirSync('src/server/api', { encoding: 'utf8' }).filter((file) => !file.endsWith('.test.ts'));
  expect(requests.length).toBeGreaterThan(15);
  expect(requests.filter((file) => readFileSync(join('src/server/api', file), 'utf8').includes('noteChange'))).toEqual([]);
});
