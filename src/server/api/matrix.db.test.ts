import { randomUUID } from 'node:crypto';
import Ajv2020 from 'ajv/dist/2020';
import { may } from '../auth/rights';
import { enter } from '../auth/signIn';
import type { Watching } from '../conversations/watch';
import { createMember, joinSite, ROLES } from '../db/members';
import { createSite } from '../db/sites';
import { ANSWERS } from '../openapi/document';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { serve } from './serve';
import { ENDPOINTS } from './table';

const shared = globalThis as {
  crindlePool?: unknown;
  crindleDirectory?: unknown;
  crindleReading?: unknown;
  crindleWatching?: Watching;
};
const HOST = 'studio.example';
let database: FreshDatabase;
let siteId = 0;

beforeAll(async () => {
  database = await freshDatabase();
  shared.crindlePool = database.pool;
  siteId = (await createSite(database.pool, { key: 'matrixsite1', name: 'Matrix', addresses: ['matrix.example'] })).id;
});
afterAll(async () => {
  await shared.crindleWatching?.end();
  delete shared.crindleWatching;
  delete shared.crindlePool;
  delete shared.crindleDirectory;
  delete shared.crindleReading;
  await database.drop();
});

/** A session of somebody with that role, new for each request: some requests end sessions, or change who somebody is. */
async function session(role: (typeof ROLES)[number]): Promise<string> {
  const memberId = await createMember(database.pool, { email: `${randomUUID()}@matrix.example`, name: role, passwordHash: '' });
  await joinSite(database.pool, { siteId, memberId, role });
  return enter(database.pool, memberId, {});
}

interface Sent {
  readonly token?: string | undefined;
  readonly origin?: string;
  readonly body?: string;
}

async function ask(method: string, path: string, { token, origin = `http://${HOST}`, body }: Sent): Promise<Response> {
  const over = new AbortController();
  const response = await serve(
    new Request(`http://${HOST}${path}`, {
      method,
      headers: { host: HOST, origin, ...(token ? { cookie: `other=1; crindle_session=${token}` } : {}) },
      ...(body === undefined ? {} : { body }),
      signal: over.signal,
    }),
  );
  over.abort();
  return response;
}

const ajv = new Ajv2020({ strict: false, allErrors: false, formats: { 'date-time': true } });
ajv.addSchema({ $id: 'document', components: { schemas: ANSWERS.schemas } });

const checked = new Set<string>();

/** What of an answer is not as the document has it. */
async function misfits(method: string, path: string, response: Response): Promise<string[]> {
  const schema = ANSWERS.answers[`${method} ${path}`];
  if (!schema || response.headers.get('content-type')?.startsWith('application/json') !== true) return [];
  checked.add(`${method} ${path}`);
  const isRight = ajv.compile(JSON.parse(JSON.stringify(schema).replaceAll('"#/components', '"document#/components')) as object);
  return isRight(await response.json()) ? [] : [`${method} ${path}: ${ajv.errorsText(isRight.errors)}`];
}

const filled = (path: string): string => path.replace(/\{\w+\}/g, randomUUID());

// What is refused is said in the log, and that nothing counts here.
beforeEach(
  () => void [jest.spyOn(console, 'error'), jest.spyOn(console, 'info')].forEach((one) => one.mockImplementation(() => undefined)),
);
afterEach(() => jest.restoreAllMocks());

test('each request is answered to whom its right says, and refused to everybody else', async () => {
  const wrong: string[] = [];
  for (const { method, path, right } of ENDPOINTS)
    for (const role of [...ROLES, undefined]) {
      const sent = { token: role && (await session(role)), ...(method === 'GET' ? {} : { body: '{}' }) };
      const response = await ask(method, filled(path), sent);
      const { status } = response;
      if (status === 200 && role === 'owner') wrong.push(...(await misfits(method, path, response)));
      const isRefused = status === 401 || status === 403 || status === 303;
      const isDue = right !== 'anybody' && (role === undefined || !may(role, right));
      if (isRefused !== isDue || status === 500) wrong.push(`${role ?? 'nobody'} ${method} ${path}: ${status}`);
    }
  expect(wrong).toEqual([]);
  // An empty site answers that much; the rest is refused for what is not there.
  expect(checked.size).toBeGreaterThan(15);
});

test('what changes something is answered to nobody who asks from elsewhere', async () => {
  const wrong: string[] = [];
  const token = await session('owner');
  for (const { method, path } of ENDPOINTS.filter((one) => one.method !== 'GET'))
    for (const origin of ['http://elsewhere.example', `http://${HOST}.elsewhere.example`, 'null', `http://${HOST}:8080`]) {
      const { status } = await ask(method, filled(path), { token, origin, body: '{}' });
      if (status !== 403) wrong.push(`${origin} ${method} ${path}: ${status}`);
    }
  expect(wrong).toEqual([]);
});

test('what is not asked here is said so, whoever asks', async () => {
  const unknown = await ask('GET', '/api/nothing', {});
  expect([unknown.status, await unknown.json()]).toEqual([404, { error: { code: 'route.unknown', message: 'Nothing is asked for here' } }]);
  const otherwise = await ask('DELETE', '/api/goals', { token: await session('owner') });
  expect([otherwise.status, otherwise.headers.get('allow')]).toEqual([405, 'POST']);
});

test('a body that is too large, no JSON, or not as it should be is refused in words, and a good one is not', async () => {
  const token = await session('owner');
  const put = async (body: string) => {
    const response = await ask('PUT', '/api/account', { token, body });
    return [response.status, ((await response.json()) as { error?: { code: string } }).error?.code];
  };
  expect(await put(JSON.stringify({ name: 'x'.repeat(1024 * 1024) }))).toEqual([413, 'body.tooLarge']);
  expect(await put('{"name":')).toEqual([400, 'body.notJson']);
  expect(await put('{"name":7,"more":1}')).toEqual([422, 'body.shape']);
  expect(await put('{"name":"Ines"}')).toEqual([200, undefined]);
});
