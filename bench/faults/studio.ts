import { randomUUID } from 'node:crypto';
import { request } from 'node:http';
import { spawn } from 'node:child_process';
import type { Dice } from '@/core/random/dice';
import { createDice } from '@/core/random/dice';
import { endpointAt, ENDPOINTS } from '@/server/api/table';
import { may } from '@/server/auth/rights';
import { enter } from '@/server/auth/signIn';
import type { Role } from '@/server/db/members';
import { createMember, joinSite, ROLES } from '@/server/db/members';
import { createSite } from '@/server/db/sites';
import { seedDemo } from '@/demo/seed';
import type { Json } from '@/server/openapi/shapes';
import { bodyShapeOf } from '@/server/openapi/shapes';
import { freePort } from '@/server/testing/freePort';
import { ROOT, serverEnv, startServer } from '../ground';
import { sized } from '../sized';
import type { Wrongs } from './ground';
import { inWords, makeSite } from './ground';

const REQUESTS = sized(100_000, 2_000);
const TOGETHER = 16;
/** Longer than this nobody waits for an answer that may go on for ever. */
const LONG_MS = 20_000;
/** What the other site has and nobody of this one may ever see. */
const MARK = 'zq7-of-the-other-site';

interface Answer {
  readonly status: number;
  readonly text: string;
}

/** Mutated requests over every route of the studio with every role, and with none: no answer of 500 and above, nothing that a role may not, nothing of another site. */
export async function runStudio(): Promise<Wrongs> {
  const { url, pool, siteId } = await makeSite();
  const secret = Buffer.alloc(32, 9).toString('base64');
  process.env['CRINDLE_SECRET_KEY'] = secret;
  process.env['CRINDLE_DATABASE_URL'] = url;
  await seedDemo(pool, {
    visits: 400,
    days: 6,
    addresses: ['127.0.0.1:1'],
    now: Date.now(),
    seed: 'fuzz',
    truthFile: undefined,
    standins: undefined,
    log: () => undefined,
  });
  const ids = await otherSite(pool);
  const tokens = new Map<Role | 'nobody', string>([['nobody', '']]);
  const { rows } = await pool.query<{ id: number }>(`select id from site where name = 'Tarnhollow Huts'`);
  const ours = rows[0]?.id ?? siteId;
  // Their numbers are none that a request may hit by chance: each stays what it is.
  await pool.query(`select setval(pg_get_serial_sequence('member', 'id'), 500000)`);
  const members = new Map<string, number>();
  for (const role of ROLES) {
    const memberId = await createMember(pool, { email: `${role}@fuzz.example`, name: role, passwordHash: '' });
    await joinSite(pool, { siteId: ours, memberId, role });
    members.set(role, memberId);
    tokens.set(role, await enter(pool, memberId, {}));
  }
  const port = await freePort();
  const analysisPort = await freePort();
  const env = {
    ...serverEnv(url, port),
    CRINDLE_SECRET_KEY: secret,
    CRINDLE_ANALYSIS_URL: `http://127.0.0.1:${analysisPort}`,
    CRINDLE_ANALYSIS_TOKEN: 'fuzz',
  };
  await startServer(analysisPort, '/health', () =>
    spawn('node', [`${ROOT}dist/server/analysis.mjs`], { env: { ...env, PORT: String(analysisPort) }, stdio: 'ignore' }),
  );
  let log = '';
  const studio = await startServer(port, '/sign-in', () => {
    const child = spawn('node', [`${ROOT}dist/server/studio.mjs`], { env, cwd: ROOT, stdio: ['ignore', 'ignore', 'pipe'] });
    child.stderr.on('data', (text: Buffer) => (log = (log + text.toString()).slice(-4000)));
    return child;
  });
  const ownIds = await idsOf(pool, ours);
  const statuses = new Map<number, number>();
  const wrongs: string[] = [];
  const note = (what: string): void => void (wrongs.length < 40 && wrongs.push(what));
  let left = REQUESTS;
  await Promise.all(
    Array.from({ length: TOGETHER }, async (_, nth) => {
      const dice = createDice(`studio fuzz ${nth}`);
      while (left-- > 0 && studio.process.exitCode === null) {
        const role = dice.pick([...tokens.keys()]);
        const sending = mutated(dice, [...ownIds, ...ids]);
        const { status, text } = await ask(port, sending, tokens.get(role) ?? '');
        // Who has made another site, or gone to one, comes back.
        const memberId = members.get(role);
        if (sending.path.startsWith('/api/sites') && status === 200 && memberId !== undefined)
          tokens.set(role, await enter(pool, memberId, {}));
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
        const said = `${role}: ${sending.method} ${sending.path} ${sending.body?.slice(0, 200) ?? ''} → ${status} ${text.slice(0, 200)}`;
        // What the analysis is too busy for, or a site that moves, is said with 503; nothing else of this is.
        if (status >= 500 && status !== 503) note(said);
        if (text.includes(MARK)) note(`of another site: ${said}`);
        if (status >= 200 && status < 300 && !isAllowed(role, sending)) note(`not allowed: ${said}`);
      }
    }),
  );
  if (studio.process.exitCode !== null) note(`The studio ended with ${studio.process.exitCode}: ${log}`);
  for (const [table, before] of await untouched(pool)) if (before !== 1) note(`the other site’s ${table} were changed`);
  studio.process.kill('SIGKILL');
  await pool.end();
  const counts = [...statuses].sort(([a], [b]) => a - b).map(([status, times]) => `${status || 'cut off'} ${inWords(times)}`);
  console.log(
    `studio: ${inWords(REQUESTS)} mutated requests over ${ENDPOINTS.length} requests with ${tokens.size - 1} roles and none, answered ${counts.join(', ')}`,
  );
  return wrongs;
}

interface Sending {
  readonly method: string;
  readonly path: string;
  readonly body: string | undefined;
  readonly origin: boolean;
}

function isAllowed(role: Role | 'nobody', { method, path, origin }: Sending): boolean {
  // Which methods there are, without a word more.
  if (method === 'OPTIONS') return true;
  const right = endpointAt(method, new URL(path, 'http://x').pathname)?.endpoint?.right;
  if (right === 'anybody') return true;
  if (role === 'nobody' || right === undefined) return false;
  return may(role, right) && (origin || method === 'GET' || method === 'HEAD');
}

type Pool = Awaited<ReturnType<typeof makeSite>>['pool'];

/** A second site that none of the roles is of, with a mark in everything. Gives the ids of what it has. */
async function otherSite(pool: Pool): Promise<string[]> {
  const site = await createSite(pool, { key: 'othersite99', name: `Site ${MARK}`, addresses: ['other.example'] });
  const [segment, campaign, lead, thread] = ['seg_other99', 'camp_other99', randomUUID(), randomUUID()];
  await pool.query(
    `insert into segment (site_id, id, name, lookback, people) values ($1, $2, $3, 90, '{"kind":"did","event":"x","times":{"min":1}}')`,
    [site.id, segment, MARK],
  );
  await pool.query(
    `insert into visitor (site_id, id, browser_id, email, first_seen, last_seen) values ($1, 1, gen_random_uuid(), $2, now(), now())`,
    [site.id, `${MARK}@post.example`],
  );
  await pool.query(
    `insert into lead (site_id, id, campaign_id, visitor_id, at, email, fields, url) values ($1, $2, $3, 1, now(), $4, '{}', 'http://other.example/')`,
    [site.id, lead, campaign, `${MARK}@post.example`],
  );
  await pool.query(
    `insert into thread (site_id, id, visitor_id, campaign_id, showing_id, view_id, begun_at, last_text, asked_at) values ($1, $2, 1, $3, gen_random_uuid(), gen_random_uuid(), now(), $4, now())`,
    [site.id, thread, campaign, MARK],
  );
  await pool
    .query(`insert into purpose (site_id, id, name, shared) values ($1, 'pur_other99', $2, '{}')`, [site.id, MARK])
    .catch(() => undefined);
  // The mark itself is in no request: what comes back with it comes from there.
  return [segment, campaign, lead, thread, String(site.id), 'othersite99'];
}

/** That the other site has what it had. */
const untouched = (pool: Pool): Promise<(readonly [string, number])[]> =>
  Promise.all(
    ['segment', 'lead', 'thread', 'visitor'].map(async (table) => {
      const { rows } = await pool.query<{ times: number }>(
        `select count(*)::int as times from ${table} where site_id = (select id from site where key = 'othersite99')`,
      );
      return [table, rows[0]?.times ?? 0] as const;
    }),
  );

async function idsOf(pool: Pool, siteId: number): Promise<string[]> {
  const { rows } = await pool.query<{ id: string }>(
    `(select id from campaign where site_id = $1 limit 8) union all (select id from segment where site_id = $1 limit 8) union all (select id::text from lead where site_id = $1 limit 4)
     union all (select id::text from thread where site_id = $1 limit 4) union all (select id::text from visitor where site_id = $1 limit 3) union all (select id::text from visit where site_id = $1 limit 3)`,
    [siteId],
  );
  return rows.map(({ id }) => id);
}

const ODD = [
  '',
  ' ',
  '0',
  '-1',
  '2147483648',
  '1e309',
  'null',
  '%00',
  '..',
  '%2e%2e%2f',
  "' or true --",
  '💥',
  'x'.repeat(3000),
  '__proto__',
  'constructor',
  '%ff',
  '\u202e',
  '{}',
  '[]',
];
const NAMES = [
  'name',
  'id',
  'text',
  'role',
  'email',
  'does',
  'ids',
  'tags',
  'visits',
  'people',
  'rule',
  'flow',
  'revision',
  'at',
  'from',
  'to',
  'days',
  'zone',
  'value',
  'by',
  'password',
  'settings',
  'kind',
  'secret',
  'consent',
  'picture',
  'status',
  'goal',
  'pages',
  'patterns',
  'shape',
];

function value(dice: Dice, ids: readonly string[], depth = 0): unknown {
  const kind = dice.whole(0, depth > 3 ? 5 : 8);
  if (kind === 0) return dice.pick(ids);
  if (kind === 1) return dice.pick(ODD);
  if (kind === 2) return dice.pick([0, -1, 1, 1.5, 2 ** 31, 2 ** 53, -1e300, 1e15]);
  if (kind === 3) return dice.pick([true, false, null]);
  if (kind === 4)
    return dice.pick(['owner', 'erase', 'tag', 'answer', 'close', 'give', 'live', 'draft', 'email', 'open', 'did', 'all', 'any']);
  if (kind === 5) return `word ${dice.whole(0, 99)}`;
  if (kind === 6) return Array.from({ length: dice.whole(0, 4) }, () => value(dice, ids, depth + 1));
  return Object.fromEntries(Array.from({ length: dice.whole(0, 5) }, () => [dice.pick(NAMES), value(dice, ids, depth + 1)]));
}

/** Something that a JSON schema takes, or nearly: here and there it is anything. */
function sample(dice: Dice, schema: Json, ids: readonly string[], depth = 0): unknown {
  if (dice.chance(0.06)) return value(dice, ids);
  // A schema may be a yes or no.
  if (typeof schema !== 'object') return value(dice, ids);
  if ('const' in schema) return schema['const'];
  const one = (name: string): readonly Json[] => (Array.isArray(schema[name]) ? (schema[name] as Json[]) : []);
  if (Array.isArray(schema['enum'])) return dice.pick(schema['enum'] as unknown[]);
  const either = [...one('anyOf'), ...one('oneOf')];
  if (either.length > 0) return sample(dice, dice.pick(either), ids, depth);
  const every = one('allOf');
  if (every.length > 0) return Object.assign({}, ...every.map((part) => sample(dice, part, ids, depth))) as unknown;
  const [least, most] = [Number(schema['minimum'] ?? 0), Number(schema['maximum'] ?? 100)];
  switch (schema['type']) {
    case 'object': {
      const needed = (schema['required'] as string[] | undefined) ?? [];
      const properties = Object.entries((schema['properties'] as Record<string, Json> | undefined) ?? {});
      return Object.fromEntries(
        properties
          .filter(([name]) => (needed.includes(name) ? !dice.chance(0.03) : dice.chance(depth > 4 ? 0.1 : 0.6)))
          .map(([name, part]) => [name, sample(dice, part, ids, depth + 1)]),
      );
    }
    case 'array':
      return Array.from({ length: dice.whole(0, depth > 4 ? 1 : 3) }, () =>
        sample(dice, (schema['items'] as Json | undefined) ?? {}, ids, depth + 1),
      );
    case 'integer':
      return dice.whole(Math.max(least, -(2 ** 31)), Math.min(most, 2 ** 31));
    case 'number':
      return dice.between(Math.max(least, -1e9), Math.min(most, 1e9));
    case 'boolean':
      return dice.chance(0.5);
    case 'null':
      return null;
    case 'string':
      if (schema['format'] === 'uuid') return dice.chance(0.5) ? randomUUID() : dice.pick(ids);
      if (schema['format'] === 'email') return 'somebody@fuzz.example';
      if (schema['format'] === 'uri') return 'https://fuzz.example/x';
      return dice.chance(0.4) ? dice.pick(ids) : `word ${dice.whole(0, 9)}`;
    default:
      return value(dice, ids, depth);
  }
}

function mutated(dice: Dice, ids: readonly string[]): Sending {
  const endpoint = dice.pick(ENDPOINTS);
  const path = endpoint.path.replace(/\{\w+\}/g, () => encodeURI(dice.chance(0.7) ? dice.pick(ids) : dice.pick(ODD)).replace(/[?#]/g, 'x'));
  const method = dice.chance(0.85) ? endpoint.method : dice.pick(['GET', 'POST', 'PUT', 'DELETE', 'PATCH', 'HEAD', 'OPTIONS']);
  const query = dice.chance(0.4)
    ? `?${new URLSearchParams(Array.from({ length: dice.whole(1, 3) }, () => [dice.pick(NAMES), String(dice.chance(0.5) ? dice.pick(ids) : dice.pick(ODD))])).toString()}`
    : '';
  let body: string | undefined;
  if (method !== 'GET' && method !== 'HEAD' && dice.chance(0.9)) {
    const schema = bodyShapeOf(endpoint);
    body = JSON.stringify(
      schema && dice.chance(0.7)
        ? sample(dice, schema, ids)
        : Object.fromEntries(Array.from({ length: dice.whole(0, 5) }, () => [dice.pick(NAMES), value(dice, ids)])),
    );
    if (dice.chance(0.1)) body = body.slice(0, dice.whole(0, body.length));
    if (dice.chance(0.02)) body = '['.repeat(dice.whole(1, 20_000));
    if (dice.chance(0.003)) body = 'x'.repeat(2 * 1024 * 1024);
  }
  return { method, path: path + query, body, origin: dice.chance(0.95) };
}

function ask(port: number, { method, path, body, origin }: Sending, token: string): Promise<Answer> {
  return new Promise((resolve) => {
    const none = (): void => resolve({ status: 0, text: '' });
    try {
      const sent = request(
        {
          host: '127.0.0.1',
          port,
          path,
          method,
          headers: {
            host: `127.0.0.1:${port}`,
            ...(origin ? { origin: `http://127.0.0.1:${port}` } : { origin: 'http://elsewhere.example' }),
            ...(token ? { cookie: `crindle_session=${token}` } : {}),
            ...(body === undefined ? {} : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) }),
          },
        },
        (response) => {
          let text = '';
          const { statusCode: status = 0 } = response;
          const isStream = String(response.headers['content-type']).startsWith('text/event-stream');
          const timer = setTimeout(() => sent.destroy(), isStream ? 200 : LONG_MS);
          response.setEncoding('utf8');
          response.on('data', (part: string) => (text.length < 4_000_000 ? (text += part) : undefined));
          const over = (): void => {
            clearTimeout(timer);
            resolve({ status, text });
          };
          response.on('end', over);
          response.on('error', over);
          response.on('close', over);
        },
      );
      sent.on('error', none);
      sent.end(body);
    } catch {
      none();
    }
  });
}
