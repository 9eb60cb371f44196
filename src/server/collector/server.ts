import rateLimit from '@fastify/rate-limit';
import Fastify from 'fastify';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { isbot } from 'isbot';
import type pg from 'pg';
import { parseWith, issueWords } from '@/core/rules/parse';
import type { BatchAnswer, Item, ItemAnswer } from '@/core/wire/items';
import { batchSchema, itemSchema } from '@/core/wire/items';
import { withTransaction } from '../db/pool';
import { isUnavailable, violates } from '../db/queryable';
import type { CurrentRelease } from '../db/releases';
import { findCurrentRelease, findReleaseByHash } from '../db/releases';
import type { Site } from '../db/sites';
import { findSiteByKey, noteRefusal } from '../db/sites';
import type { Locate } from '../location/locate';
import { deviceOf } from './device';
import { recordGoals } from './goals';
import type { Sender } from './record';
import { ItemRefused, recordItem } from './record';
import type { PageParts } from './pageParts';
import { remembered } from './remembered';
import { tell } from './tell';

const BODY_LIMIT = 256 * 1024;
const RETRY_SECONDS = 5;
/** A clock that is off by less than this is taken at its word: the network's delay looks the same. */
const CLOCK_TOLERANCE_MS = 5000;

export interface CollectorOptions {
  readonly pool: pg.Pool;
  readonly parts: PageParts;
  readonly locate?: Locate;
  /** Requests a minute from one address. */
  readonly perMinute: number;
  readonly trustProxy?: boolean;
}

interface Known {
  readonly site: Site;
  readonly current: CurrentRelease | undefined;
}

/** The server that host pages talk to. It never answers with a stack trace, and no request can end it. */
export async function createCollector({
  pool,
  parts,
  perMinute,
  trustProxy = false,
  locate = () => undefined,
}: CollectorOptions): Promise<FastifyInstance> {
  const server = Fastify({ bodyLimit: BODY_LIMIT, trustProxy, forceCloseConnections: 'idle' });
  const known = remembered<Known | undefined>({ ms: 1000, load: (key) => loadKnown(pool, key) });

  // Awaited: a route that is defined before the limit has loaded would not be limited.
  await server.register(rateLimit, { max: perMinute, timeWindow: '1 minute', allowList: (request) => request.url === '/health' });
  // Pages send text/plain: it needs no preflight request, and sendBeacon can send it.
  server.removeAllContentTypeParsers();
  server.addContentTypeParser('*', { parseAs: 'string' }, (_request, body, done) => done(null, body));
  server.addHook('onSend', async (_request, reply) => {
    reply.header('access-control-allow-origin', '*');
    reply.header('cross-origin-resource-policy', 'cross-origin');
    reply.header('x-content-type-options', 'nosniff');
  });
  server.options('/*', async (_request, reply) =>
    reply
      .header('access-control-allow-methods', 'GET, POST')
      .header('access-control-allow-headers', 'content-type')
      .header('access-control-max-age', '86400')
      .code(204)
      .send(),
  );
  server.setNotFoundHandler(async (request, reply) =>
    answerError(reply, 404, 'route.unknown', `Nothing is at ${request.url.slice(0, 200)}`),
  );
  server.setErrorHandler(async (cause, _request, reply) => answerFailure(reply, cause));

  server.get('/health', async (_request, reply) => {
    await pool.query('select 1');
    return reply.send({ ok: true });
  });
  server.get('/page.js', async (request, reply) => parts.sendEntry(request, reply));
  server.get('/parts/:name', async (request, reply) => parts.send(request, reply));
  server.get<{ Params: { key: string; hash: string } }>('/r/:key/:hash', async ({ params }, reply) => {
    const found = await known(params.key);
    const document =
      found?.current?.hash === params.hash ? found.current.document : found && (await findReleaseByHash(pool, found.site.id, params.hash));
    if (!document) return answerError(reply, 404, 'release.unknown', 'No release has that hash');
    return reply.header('cache-control', 'public, max-age=31536000, immutable').send(document);
  });
  server.post('/c', async (request, reply) => collect(request, reply, { pool, known, locate }));
  return server;
}

async function loadKnown(pool: pg.Pool, key: string): Promise<Known | undefined> {
  const site = await findSiteByKey(pool, key);
  return site && { site, current: await findCurrentRelease(pool, site.id) };
}

async function collect(
  request: FastifyRequest,
  reply: FastifyReply,
  { pool, known, locate }: { pool: pg.Pool; known: (key: string) => Promise<Known | undefined>; locate: Locate },
): Promise<FastifyReply> {
  const body = parseBody(request.body);
  if (body === undefined) return answerError(reply, 400, 'body.notJson', 'The body is not JSON');
  const batch = parseWith(batchSchema, body);
  if (!batch.ok) return answerError(reply, 400, 'body.shape', batch.issues.map(issueWords).join('; '));
  const { key, browser, now: theirNow, items } = batch.value;
  const found = await known(key);
  if (!found) return answerError(reply, 404, 'site.unknown', `No site has the key ${key}`);
  const { site, current } = found;
  const userAgent = request.headers['user-agent'] ?? '';
  if (isbot(userAgent)) {
    await noteRefusal(pool, site.id, 'robot', userAgent);
    return reply.send({ items: items.map(() => ({ ok: true })), now: Date.now() } satisfies BatchAnswer);
  }
  const host = originHost(request.headers.origin);
  if (!host || !site.addresses.includes(host)) {
    await noteRefusal(pool, site.id, 'address', host ?? 'no origin');
    return answerError(reply, 403, 'site.address', `${host ?? 'A page without an origin'} is not one of the addresses of ${site.name}`);
  }
  const now = Date.now();
  const skew = Math.abs(now - theirNow) > CLOCK_TOLERANCE_MS ? now - theirNow : 0;
  // The address serves to look the place up, and goes no further.
  const location = locate(request.ip);
  const answers: ItemAnswer[] = [];
  let visitorId: number | undefined;
  let isWorthTelling = false;
  for (const unknown of items) {
    const item = parseWith(itemSchema, unknown);
    if (!item.ok) {
      answers.push({ ok: false, code: 'item.shape', message: item.issues.map(issueWords).join('; ') });
      continue;
    }
    const touchPoints = item.value.kind === 'open' ? item.value.touchPoints : 0;
    const outcome = await recordOne(pool, item.value, { site, browser, skew, device: deviceOf(userAgent, touchPoints), location }, current);
    answers.push(outcome.answer);
    visitorId = outcome.visitorId ?? visitorId;
    isWorthTelling ||= ['open', 'event', 'person', 'form'].includes(item.value.kind);
  }
  const told =
    isWorthTelling && visitorId !== undefined ? await tell(pool, { siteId: site.id, visitorId, current, now: Date.now() }) : undefined;
  return reply.send({ items: answers, now: Date.now(), ...(told ? { told } : {}) } satisfies BatchAnswer);
}

/** Answers only after the commit: what is acknowledged is on disk. */
async function recordOne(
  pool: pg.Pool,
  item: Item,
  sender: Sender,
  current: CurrentRelease | undefined,
): Promise<{ answer: ItemAnswer; visitorId?: number }> {
  const attempt = () =>
    withTransaction(pool, async (tx) => {
      const visitorId = await recordItem(tx, item, sender);
      await recordGoals(tx, { siteId: sender.site.id, visitorId, item, skew: sender.skew, release: current?.document });
      return { answer: { ok: true as const }, visitorId };
    });
  try {
    return await attempt();
  } catch (cause) {
    if (cause instanceof ItemRefused) return { answer: { ok: false, code: cause.code, message: cause.message } };
    // Two first pages of one browser at once: the other one made the visitor.
    if (violates(cause, 'visitor_browser_unique')) return attempt();
    throw cause;
  }
}

function parseBody(body: unknown): unknown {
  try {
    return typeof body === 'string' ? (JSON.parse(body) as unknown) : undefined;
  } catch {
    return undefined; // The caller answers 400.
  }
}

function originHost(origin: string | undefined): string | undefined {
  return origin !== undefined && URL.canParse(origin) ? new URL(origin).host : undefined;
}

function answerError(reply: FastifyReply, status: number, code: string, message: string): FastifyReply {
  return reply.code(status).header('cache-control', 'no-store').send({ error: { code, message } });
}

function answerFailure(reply: FastifyReply, cause: unknown): FastifyReply {
  const status = (cause as { statusCode?: number }).statusCode ?? 500;
  if (status === 413) return answerError(reply, 413, 'body.tooLarge', `The body is larger than ${BODY_LIMIT / 1024} KB`);
  if (status === 429) return answerError(reply, 429, 'rate.exceeded', 'Too many requests from this address; wait a minute');
  if (status >= 400 && status < 500) return answerError(reply, status, 'request.bad', (cause as Error).message);
  if (isUnavailable(cause))
    return answerError(
      reply.header('retry-after', RETRY_SECONDS),
      503,
      'database.away',
      'The database cannot be reached; nothing was taken, send it again',
    );
  console.error(cause);
  return answerError(reply, 500, 'internal', 'Something went wrong here; nothing was taken, send it again');
}
