// Every screen with every role, and with none, on a studio of its own. Requests: src/server/api/matrix.db.test.ts.
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { may, PAGES } from '../src/server/auth/rights';
import { enter } from '../src/server/auth/signIn';
import { createMember, joinSite, ROLES } from '../src/server/db/members';
import { createSite } from '../src/server/db/sites';
import { SecondProcess } from './second';
import { ask, databaseUrl } from './stack';

const name = `matrix_${randomUUID().slice(0, 8)}`;
const url = (): string => databaseUrl().replace(/\/[^/?]*(?=$|\?)/, `/${name}`);
let studio: SecondProcess;
let pool: pg.Pool;
let siteId = 0;

test.beforeAll(async () => {
  await ask(`create database ${name}`);
  execFileSync('node', ['scripts/migrate.mjs'], { env: { ...process.env, CRINDLE_DATABASE_URL: url() }, stdio: 'ignore' });
  pool = new pg.Pool({ connectionString: url(), max: 2 });
  siteId = (await createSite(pool, { key: 'matrixsite1', name: 'Matrix', addresses: ['matrix.example'] })).id;
  studio = await SecondProcess.start('studio', { CRINDLE_DATABASE_URL: url() });
});
test.afterAll(async () => {
  await studio.kill();
  // A pool has ended before the last of its connections has, which the database may then end instead.
  pool.on('error', () => undefined);
  await pool.end();
  await ask(`drop database ${name} with (force)`);
});

/** A session of somebody with that role, new for each request: some requests end sessions, or change who somebody is. */
async function session(role: (typeof ROLES)[number]): Promise<string> {
  const memberId = await createMember(pool, { email: `${randomUUID()}@matrix.example`, name: role, passwordHash: '' });
  await joinSite(pool, { siteId, memberId, role });
  return enter(pool, memberId, {});
}

const filled = (path: string): string => path.replace(/\{\w+\}/g, randomUUID());

test('each screen opens for whom the table says, and says to everybody else why not', async () => {
  const wrong: string[] = [];
  for (const [path, right] of Object.entries(PAGES))
    for (const role of [...ROLES, undefined]) {
      if (path === '/') continue;
      const cookie = role && `crindle_session=${await session(role)}`;
      const response = await fetch(studio.url + filled(path), { redirect: 'manual', headers: cookie ? { cookie } : {} });
      const text = await response.text();
      // Next says where it leads to in the page, where that has begun to go out.
      const to = response.headers.get('location') ?? /NEXT_REDIRECT;\w+;([^;"\\]+)/.exec(text)?.[1] ?? '';
      const met = to.startsWith('/sign-in') ? 'signed out' : to.startsWith('/no-access') ? 'refused' : 'open';
      const due = role === undefined ? 'signed out' : may(role, right) ? 'open' : 'refused';
      if (met !== due) wrong.push(`${role ?? 'nobody'} ${path}: ${met}, not ${due} (${response.status} ${to})`);
    }
  expect(wrong).toEqual([]);
});

/** The status of a request that no browser's `fetch` sends. */
const statusOf = (method: string, path: string, cookie: string): Promise<number | undefined> =>
  new Promise((resolve, reject) => {
    request(studio.url + path, { method, headers: { cookie } }, (response) => {
      response.resume();
      resolve(response.statusCode);
    })
      .on('error', reject)
      .end();
  });

test('an address that holds no text, and a way of asking that nobody asks in, are refused and no fault', async () => {
  const cookie = `crindle_session=${await session('owner')}`;
  const [visitor, thread] = [randomUUID(), randomUUID()];
  const met = await Promise.all(
    [
      ['GET', `/api/conversations/%00`],
      ['GET', '/leads.csv?q=%00'],
      ['GET', `/visitors/${visitor}%00`],
      ['GET', '/members.csv?segment=__proto__'],
      ['GET', `/api/conversations/${thread}%`],
      ['TRACE', '/'],
      ['PROPFIND', '/today'],
    ].map(async ([method = '', path = '']) => [method, path, await statusOf(method, path, cookie)]),
  );
  expect(met.map(([, , status]) => status)).toEqual([400, 400, 400, 400, 400, 405, 405]);
});
