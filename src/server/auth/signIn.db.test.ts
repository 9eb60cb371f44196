// Signing in: by password and by a second factor, slowed down where somebody guesses, and never for whoever it is about.
import { TOTP, Secret } from 'otpauth';
import type { Role } from '../db/members';
import {
  changeRole,
  createMember,
  endSessions,
  findPassword,
  joinSite,
  LastOwner,
  leaveSite,
  listMembers,
  listSessions,
} from '../db/members';
import { withTransaction } from '../db/pool';
import { createSite } from '../db/sites';
import { firstLink, makeFirst, NoTicket, NotFirst } from '../sites/make';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { beginFactor, changePassword, endFactor, finishFactor } from './account';
import { noteAttempt } from './attempts';
import { acceptInvitation, dropInvitation, findInvitation, invite, listInvitations } from './invitations';
import { hashPassword, isPassword, weakness } from './password';
import { resetLink, resetPassword } from './reset';
import { onSessionEnd } from './sessionEnds';
import { enter, memberOf, signIn, signInByCode, signOut } from './signIn';
import { makeTicket } from './tickets';
import { tokenHash } from './token';

const before = { ...process.env };
let database: FreshDatabase;
let siteId: number;
let ines: number;
const right = { email: 'Ines@tarnhollow.example', password: 'lantern-col' };
const here = { address: '10.0.0.1', agent: 'Mozilla/5.0 Firefox/140' };

beforeEach(async () => {
  process.env['CRINDLE_SECRET_KEY'] = Buffer.alloc(32, 7).toString('base64');
  database = await freshDatabase();
  siteId = (await createSite(database.pool, { key: 'sitekey123', name: 'Site', addresses: ['site.example'] })).id;
  ines = await join('Ines', right.email, 'owner');
});
afterEach(async () => {
  process.env = { ...before };
  await database.drop();
});

async function join(name: string, email: string, role: Role): Promise<number> {
  const memberId = await createMember(database.pool, { email, name, passwordHash: await hashPassword(right.password) });
  await joinSite(database.pool, { siteId, memberId, role });
  return memberId;
}
const tokenOf = async (given = {}): Promise<string> => {
  const result = await signIn(database.pool, { ...right, ...here, ...given });
  return result.kind === 'in' ? result.token : `no token: ${result.kind}`;
};
const ticketIn = (link: string): string => new URL(link).searchParams.get('ticket') ?? '';

test('the right password opens a session that ends when signing out, with whatever listens to it', async () => {
  const token = await tokenOf();
  expect(await memberOf(database.pool, token)).toMatchObject({ name: 'Ines', role: 'owner' });
  const ended: string[] = [];
  onSessionEnd(tokenHash(token), () => ended.push('mine'));
  const forget = onSessionEnd(tokenHash(token), () => ended.push('forgotten'));
  forget();
  onSessionEnd(tokenHash(await tokenOf()), () => ended.push('another'));
  await signOut(database.pool, token);
  expect(await memberOf(database.pool, token)).toBeUndefined();
  expect(ended).toEqual(['mine']);
});

test('neither passwords nor tokens are kept as they are', async () => {
  const token = await tokenOf();
  const ticket = await makeTicket(database.pool, { kind: 'reset', memberId: ines, minutes: 5 });
  const dumps = await Promise.all(
    ['member', 'session', 'ticket'].map((table) => database.pool.query<{ row: object }>(`select to_jsonb(t) as row from ${table} t`)),
  );
  const dump = JSON.stringify(dumps.map(({ rows }) => rows));
  for (const secret of [right.password, token, ticket]) expect(dump).not.toContain(secret);
});

test('of many who guess at once only some are looked at; who guesses from elsewhere keeps the owner’s own browser from nothing', async () => {
  const first = await signIn(database.pool, { ...right, ...here });
  const mark = first.kind === 'in' ? first.mark : undefined;
  const guess = async (address: string, given = {}): Promise<string> =>
    (await signIn(database.pool, { email: right.email, password: 'wrong', address, ...given })).kind;
  // All at once from one address: no more than go without waiting.
  const kinds = await Promise.all(Array.from({ length: 12 }, () => guess('10.0.1.1')));
  expect(kinds.filter((kind) => kind === 'wrong').length).toBeLessThanOrEqual(5);
  expect(kinds.filter((kind) => kind === 'throttled').length).toBeGreaterThanOrEqual(7);
  // Even with the right password, from there, once there were more.
  await database.pool.query(
    `insert into sign_in_attempt (subject) select 'pair ines@tarnhollow.example 10.0.1.1' from generate_series(1, 15)`,
  );
  expect(await guess('10.0.1.1', { password: right.password })).toBe('throttled');
  // From ever another address: at some point everybody unknown waits, whatever they say.
  await database.pool.query(`insert into sign_in_attempt (subject) select 'email ines@tarnhollow.example' from generate_series(1, 60)`);
  expect(await guess('10.0.2.77', { password: right.password })).toBe('throttled');
  // A browser that has signed in with it before does not, and a made-up mark is none.
  expect(await guess('10.0.2.78', { password: right.password, mark: `${mark}x` })).toBe('throttled');
  expect(await guess('10.0.2.78', { password: right.password, mark })).toBe('in');
  // What was known with the last password is not with the next.
  await database.pool.query(`update member set password_hash = $1`, [await hashPassword('another-one-entirely')]);
  expect(await guess('10.0.2.79', { password: 'another-one-entirely', mark })).toBe('throttled');
});

test('each further try waits twice as long, and no longer than a quarter of an hour; what was not looked at is no try', async () => {
  const note = () => noteAttempt(database.pool, { email: 'a@b.example', address: '10.1.1.1', isKnown: true });
  for (let nth = 0; nth < 5; nth++) expect((await note()).wait).toBeUndefined();
  const back = (seconds: number) => database.pool.query(`update sign_in_attempt set at = at - make_interval(secs => $1)`, [seconds]);
  expect((await note()).wait).toBe(2);
  expect((await note()).wait).toBe(2);
  await back(2.5);
  expect((await note()).wait).toBeUndefined();
  expect((await note()).wait).toBe(4);
  for (let nth = 0; nth < 14; nth++)
    await database.pool.query(`insert into sign_in_attempt (subject) values ('pair a@b.example 10.1.1.1')`);
  expect((await note()).wait).toBe(900);
  await back(901);
  expect((await note()).wait).toBeUndefined();
});

test('an unknown email takes the same way as a wrong password', async () => {
  expect((await signIn(database.pool, { email: 'nobody@tarnhollow.example', password: 'x', address: '10.0.3.1' })).kind).toBe('wrong');
  expect(await isPassword('x', undefined)).toBe(false);
  expect(await isPassword('x', 'plain:x')).toBe(false);
});

test('a second factor is asked for after the password; each code is good once, and spare ones, too', async () => {
  const member = { id: ines, email: right.email.toLowerCase(), name: 'Ines' };
  const now = Date.parse('2026-11-27T10:00:00Z');
  await expect(beginFactor(database.pool, { member, password: 'wrong', address: here.address })).rejects.toMatchObject({
    code: 'password.wrong',
  });
  const begun = await beginFactor(database.pool, { member, password: right.password, address: here.address });
  const codeAt = (at: number): string => new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: at });
  // Nothing is asked for before a code was said.
  expect((await signIn(database.pool, { ...right, ...here })).kind).toBe('in');
  await expect(finishFactor(database.pool, { member, ticket: begun.ticket, code: '000000', now })).rejects.toMatchObject({
    code: 'factor.code',
  });
  await expect(
    finishFactor(database.pool, { member: { ...member, id: ines + 1 }, ticket: begun.ticket, code: codeAt(now), now }),
  ).rejects.toMatchObject({ code: 'factor.over' });
  const spare = await finishFactor(database.pool, { member, ticket: begun.ticket, code: codeAt(now), now });
  expect(spare).toHaveLength(10);

  const half = async (): Promise<string> => {
    const result = await signIn(database.pool, { ...right, ...here });
    return result.kind === 'code' ? result.ticket : result.kind;
  };
  const tryCode = async (ticket: string, code: string, at = now + 60_000) =>
    (await signInByCode(database.pool, { ticket, code, now: at, ...here })).kind;
  // The one that set it up was used.
  expect(await tryCode(await half(), codeAt(now), now)).toBe('wrong');
  const ticket = await half();
  expect(await tryCode(ticket, codeAt(now + 60_000))).toBe('in');
  expect(await tryCode(ticket, codeAt(now + 90_000), now + 90_000)).toBe('over');
  expect(await tryCode(await half(), codeAt(now + 60_000))).toBe('wrong');
  expect(await tryCode(await half(), spare[3] ?? '')).toBe('in');
  expect(await tryCode(await half(), spare[3] ?? '')).toBe('wrong');
  expect(await tryCode(await half(), (spare[4] ?? '').toUpperCase())).toBe('in');
  // Two at once with the same code: one is in.
  const [one, two] = [await half(), await half()];
  const both = await Promise.all([one, two].map((each) => tryCode(each, codeAt(now + 180_000), now + 180_000)));
  expect(both.sort()).toEqual(['in', 'wrong']);
  // Five tries, and it is over even with the right one.
  const last = await half();
  for (let nth = 0; nth < 5; nth++) expect(await tryCode(last, '123456', now + 240_000)).toBe('wrong');
  expect(await tryCode(last, codeAt(now + 240_000), now + 240_000)).toBe('over');
  expect(await tryCode('made-up', codeAt(now + 240_000), now + 240_000)).toBe('over');
  await endFactor(database.pool, { member, password: right.password, address: '10.0.0.9' });
  expect((await signIn(database.pool, { ...right, ...here })).kind).toBe('in');
});

test('wrong codes count over all tickets: after ten in an hour none is looked at, and the member is told once', async () => {
  const member = { id: ines, email: right.email.toLowerCase(), name: 'Ines' };
  const now = Date.parse('2026-11-27T10:00:00Z');
  const begun = await beginFactor(database.pool, { member, password: right.password, address: here.address });
  const codeAt = (at: number): string => new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: at });
  await finishFactor(database.pool, { member, ticket: begun.ticket, code: codeAt(now), now });
  const tryCode = async (code: string, address: string) => {
    const half = await signIn(database.pool, { ...right, agent: 'Chrome', address });
    if (half.kind !== 'code') throw new Error(half.kind);
    return signInByCode(database.pool, { ticket: half.ticket, code, now: now + 60_000, agent: 'Chrome', address });
  };
  const guessed = [];
  for (let nth = 0; nth < 12; nth++) guessed.push(await tryCode('000000', `10.0.7.${nth}`));
  expect(guessed.slice(0, 9)).toEqual(Array.from({ length: 9 }, () => ({ kind: 'wrong' })));
  expect(guessed[9]).toEqual({ kind: 'wrong', tell: right.email });
  expect(guessed.slice(10).map(({ kind }) => kind)).toEqual(['throttled', 'throttled']);
  // Nor is the right one, until the hour is over.
  expect((await tryCode(codeAt(now + 60_000), '10.0.7.20')).kind).toBe('throttled');
  await database.pool.query(`update sign_in_attempt set at = at - interval '1 hour'`);
  expect((await tryCode(codeAt(now + 60_000), '10.0.7.21')).kind).toBe('in');
});

test('another password ends all other sessions; one session is ended by itself, and nobody ends another’s', async () => {
  const [mine, other, third] = [await tokenOf(), await tokenOf(), await tokenOf()];
  const jonas = await join('Jonas', 'jonas@tarnhollow.example', 'editor');
  const sessions = await listSessions(database.pool, ines, tokenHash(mine));
  expect(sessions.map(({ isThis, agent }) => [isThis, agent])).toEqual([
    [true, here.agent],
    [false, here.agent],
    [false, here.agent],
  ]);
  const id = tokenHash(third).toString('hex').slice(0, 16);
  expect(await endSessions(database.pool, jonas, { id })).toEqual([]);
  expect(await endSessions(database.pool, ines, { id })).toHaveLength(1);
  expect(await memberOf(database.pool, third)).toBeUndefined();
  const member = { id: ines, email: right.email, name: 'Ines' };
  const change = (password: string, next: string) =>
    changePassword(database.pool, { member, session: tokenHash(mine), address: here.address, password, next });
  await expect(change('wrong', 'moss and granite')).rejects.toMatchObject({ code: 'password.wrong' });
  await expect(change(right.password, 'short')).rejects.toMatchObject({ code: 'password.weak' });
  await change(right.password, 'moss and granite');
  expect(await memberOf(database.pool, other)).toBeUndefined();
  expect(await memberOf(database.pool, mine)).toBeDefined();
  expect(await tokenOf()).toBe('no token: wrong');
  expect(await tokenOf({ password: 'moss and granite' })).not.toContain('no token');
});

test.each([
  ['123456789', /9 characters/],
  ['password1234', /first to be tried/],
  ['Ines@tarnhollow.example', /first to be tried/],
  ['aaaaaaaaaaaa', /first to be tried/],
  ['x'.repeat(1001), /at most 1000/],
])('%s is no password', (password, why) => {
  expect(weakness(password, ['ines@tarnhollow.example', 'Ines Rauch'])).toMatch(why);
});

test('words that do not belong together are one', () => {
  expect(weakness('moss and granite', ['ines@tarnhollow.example'])).toBeUndefined();
});

test('a link to a new password is good once, for the last that was asked for, and ends every session', async () => {
  const token = await tokenOf();
  const [first, second] = [ticketIn(await resetLink(database.pool, ines)), ticketIn(await resetLink(database.pool, ines))];
  const reset = (ticket: string, password = 'moss and granite') => resetPassword(database.pool, { token: ticket, password });
  expect(await reset(first)).toMatch(/over/);
  expect(await reset(second, 'short')).toMatch(/Password/);
  expect((await Promise.all([reset(second), reset(second)])).filter((error) => error === undefined)).toHaveLength(1);
  expect(await reset(second)).toMatch(/over/);
  expect(await memberOf(database.pool, token)).toBeUndefined();
  expect(await tokenOf({ password: 'moss and granite' })).not.toContain('no token');
  await database.pool.query(`update ticket set expires_at = now() - interval '1 second'`);
  expect(await reset(ticketIn(await resetLink(database.pool, ines)).slice(1))).toMatch(/over/);
});

test('a second step that was set up in the week before goes with a password chosen by mail, an older one stays; its owner is told', async () => {
  const member = { id: ines, email: right.email.toLowerCase(), name: 'Ines' };
  const now = Date.parse('2026-11-27T10:00:00Z');
  const takeOver = async (): Promise<void> => {
    const begun = await beginFactor(database.pool, { member, password: right.password, address: here.address });
    const code = new TOTP({ secret: Secret.fromBase32(begun.secret) }).generate({ timestamp: now });
    await finishFactor(database.pool, { member, ticket: begun.ticket, code, now });
  };
  const reset = async () =>
    resetPassword(database.pool, { token: ticketIn(await resetLink(database.pool, ines)), password: right.password });
  await takeOver();
  expect((await signIn(database.pool, { ...right, ...here })).kind).toBe('code');
  expect(await reset()).toBeUndefined();
  expect((await signIn(database.pool, { ...right, ...here })).kind).toBe('in');
  await takeOver();
  await database.pool.query(`update member set totp_at = now() - interval '8 days'`);
  expect(await reset()).toBeUndefined();
  expect((await signIn(database.pool, { ...right, ...here })).kind).toBe('code');
});

test('a link that whoever invites has in hand proves nobody’s email, until a new password is chosen by mail', async () => {
  const isProven = async (email: string) => (await listMembers(database.pool, siteId)).find((one) => one.email === email)?.isEmailProven;
  for (const isHanded of [true, false]) {
    const email = `handed-${isHanded}@post.example`;
    const token = ticketIn((await invite(database.pool, siteId, { email, role: 'viewer', by: 'Ines', isHanded })) ?? '');
    const done = await acceptInvitation(database.pool, { token, name: 'Mara', password: 'moss and granite', address: '10.0.8.7' });
    expect(await isProven(email)).toBe(!isHanded);
    const id = 'memberId' in done ? done.memberId : 0;
    await resetPassword(database.pool, { token: ticketIn(await resetLink(database.pool, id)), password: 'granite and moss' });
    expect(await isProven(email)).toBe(true);
  }
});

test('who is invited makes an account, or says the password of the one they have, and is what they were invited as, once', async () => {
  const invited = async (email: string, role: Role) =>
    ticketIn((await invite(database.pool, siteId, { email, role, by: 'Ines', isHanded: false })) ?? '');
  expect(await invite(database.pool, siteId, { email: right.email, role: 'viewer', by: 'Ines', isHanded: false })).toBeUndefined();
  const old = await invited('Mara@post.example', 'viewer');
  const token = await invited('mara@post.example', 'agent');
  expect(await findInvitation(database.pool, old)).toBeUndefined();
  expect(await findInvitation(database.pool, token)).toMatchObject({
    email: 'mara@post.example',
    role: 'agent',
    site: 'Site',
    hasAccount: false,
  });
  const accept = (given: object) =>
    acceptInvitation(database.pool, { token, name: 'Mara', password: 'moss and granite', address: '10.0.8.1', ...given });
  expect(await accept({ name: '' })).toMatchObject({ error: expect.stringContaining('name') as string });
  expect(await accept({ password: 'mara@post.example' })).toMatchObject({ error: expect.stringContaining('Password') as string });
  const done = await accept({});
  expect(done).toMatchObject({ isNew: true });
  expect(await accept({})).toMatchObject({ error: expect.stringContaining('over') as string });
  const session = await enter(database.pool, 'memberId' in done ? done.memberId : 0, {});
  expect(await memberOf(database.pool, session)).toMatchObject({ name: 'Mara', role: 'agent', siteId });

  const other = await createSite(database.pool, { key: 'othersite1', name: 'Other', addresses: [] });
  const again = ticketIn(
    (await invite(database.pool, other.id, { email: 'mara@post.example', role: 'owner', by: 'Tom', isHanded: false })) ?? '',
  );
  expect(await findInvitation(database.pool, again)).toMatchObject({ hasAccount: true });
  expect(
    await acceptInvitation(database.pool, { token: again, name: 'Somebody else', password: 'a guess', address: '10.0.8.1' }),
  ).toMatchObject({
    error: expect.stringContaining('Password') as string,
  });
  expect(
    await acceptInvitation(database.pool, { token: again, name: '', password: 'moss and granite', address: '10.0.8.1' }),
  ).toMatchObject({ isNew: false });
  expect((await findPassword(database.pool, 'mara@post.example'))?.name).toBe('Mara');

  const dropped = await invited('nils@post.example', 'viewer');
  const [listed] = await listInvitations(database.pool, siteId);
  expect(listed).toMatchObject({ email: 'nils@post.example', by: 'Ines' });
  expect(await dropInvitation(database.pool, other.id, listed?.id ?? '')).toBe(false);
  expect(await dropInvitation(database.pool, siteId, listed?.id ?? '')).toBe(true);
  expect(await findInvitation(database.pool, dropped)).toBeUndefined();
});

test('a site keeps an owner, also where two stop being one at the same moment', async () => {
  const { pool } = database;
  const change = (id: number, role: Role) => withTransaction(pool, (tx) => changeRole(tx, siteId, id, role));
  await expect(change(ines, 'editor')).rejects.toBeInstanceOf(LastOwner);
  await expect(withTransaction(pool, (tx) => leaveSite(tx, siteId, ines))).rejects.toBeInstanceOf(LastOwner);
  const jonas = await join('Jonas', 'jonas@tarnhollow.example', 'owner');
  const both = await Promise.allSettled([change(ines, 'editor'), change(jonas, 'viewer')]);
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect(await change(jonas + 100, 'editor')).toBeUndefined();
  expect(await withTransaction(pool, (tx) => leaveSite(tx, siteId + 1, jonas))).toBeUndefined();
});

test('the first account is made by whoever has the link from the terminal, once', async () => {
  const { pool } = database;
  const given = { name: 'Ines', email: 'first@post.example', password: 'moss and granite', site: 'Tarn', host: 'www.tarn.example' };
  expect(await firstLink(pool)).toBeUndefined();
  await expect(makeFirst(pool, { ...given, ticket: await makeTicket(pool, { kind: 'first', minutes: 5 }) })).rejects.toBeInstanceOf(
    NotFirst,
  );
  await pool.query(`delete from member`);
  const old = ticketIn((await firstLink(pool)) ?? '');
  const ticket = ticketIn((await firstLink(pool)) ?? '');
  for (const wrong of ['', 'guessed', old]) await expect(makeFirst(pool, { ...given, ticket: wrong })).rejects.toBeInstanceOf(NoTicket);
  const both = await Promise.allSettled([
    makeFirst(pool, { ...given, ticket }),
    makeFirst(pool, { ...given, ticket, email: 'second@post.example' }),
  ]);
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
  expect(await firstLink(pool)).toBeUndefined();
});

test('an invitation is no way round the limits of guessing at a password', async () => {
  const link =
    (await invite(database.pool, siteId, { email: 'jonas@tarnhollow.example', role: 'viewer', by: 'Ines', isHanded: false })) ?? '';
  await createMember(database.pool, { email: 'jonas@tarnhollow.example', name: 'Jonas', passwordHash: '' });
  const token = new URL(link).searchParams.get('ticket') ?? '';
  await database.pool.query(`insert into sign_in_attempt (subject) select 'email jonas@tarnhollow.example' from generate_series(1, 60)`);
  expect(await acceptInvitation(database.pool, { token, name: '', password: 'a guess', address: '10.0.9.1' })).toMatchObject({
    error: expect.stringContaining('Too many tries') as string,
  });
  await database.pool.query(`delete from sign_in_attempt`);
  // Each guess is one of signing in, too.
  await acceptInvitation(database.pool, { token, name: '', password: 'a guess', address: '10.0.9.2' });
  expect(
    (await database.pool.query<{ subject: string }>(`select subject from sign_in_attempt order by 1`)).rows.map(({ subject }) => subject),
  ).toEqual(['address 10.0.9.2', 'email jonas@tarnhollow.example', 'pair jonas@tarnhollow.example 10.0.9.2']);
});
