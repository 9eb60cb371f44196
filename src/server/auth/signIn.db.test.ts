import { createMember, joinSite } from '../db/members';
import { createSite } from '../db/sites';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { hashPassword, isPassword } from './password';
import { memberOf, signIn, signOut } from './signIn';

let database: FreshDatabase;
const right = { email: 'Ines@tarnhollow.example', password: 'lantern-col' };

beforeAll(async () => {
  database = await freshDatabase();
  const site = await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] });
  const memberId = await createMember(database.pool, {
    email: right.email,
    name: 'Ines',
    passwordHash: await hashPassword(right.password),
  });
  await joinSite(database.pool, { siteId: site.id, memberId, role: 'owner' });
});
afterAll(() => database.drop());

test('the right password opens a session that ends with signing out', async () => {
  const result = await signIn(database.pool, { ...right, address: '10.0.0.1' });
  const token = result.kind === 'in' ? result.token : '';
  expect(await memberOf(database.pool, token)).toMatchObject({ name: 'Ines', role: 'owner' });
  await signOut(database.pool, token);
  expect(await memberOf(database.pool, token)).toBeUndefined();
});

test('neither the password nor the token stands in the database', async () => {
  const result = await signIn(database.pool, { ...right, address: '10.0.0.1' });
  const dump = JSON.stringify(
    (await database.pool.query(`select member.*, encode(token_hash, 'base64') as hash from member join session on member_id = member.id`))
      .rows,
  );
  expect(dump).not.toContain(right.password);
  expect(dump).not.toContain(result.kind === 'in' ? result.token : 'no token');
});

test('eight wrong passwords close the door for that email, even for the right one and from elsewhere', async () => {
  const email = 'guessed@tarnhollow.example';
  await createMember(database.pool, { email, name: 'Guessed', passwordHash: await hashPassword('right') });
  const attempt = async (password: string, address: string): Promise<string> =>
    (await signIn(database.pool, { email, password, address })).kind;
  for (let tries = 0; tries < 8; tries++) expect(await attempt('wrong', `10.0.1.${tries}`)).toBe('wrong');
  expect(await attempt('right', '10.0.2.1')).toBe('throttled');
});

test('an unknown person is as wrong as a wrong password', async () => {
  expect((await signIn(database.pool, { email: 'nobody@tarnhollow.example', password: 'x', address: '10.0.3.1' })).kind).toBe('wrong');
  expect(await isPassword('x', undefined)).toBe(false);
  expect(await isPassword('x', 'plain:x')).toBe(false);
});
