import rateLimit from '@fastify/rate-limit';
import Fastify from 'fastify';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type pg from 'pg';
import { issueWords, parseWith } from '@/core/parsing/parse';
import { Directory, SiteMoving } from '../db/directory';
import { nodePool } from '../db/pool';
import type { Outage } from '../db/queryable';
import { isUnstorable, outageOf } from '../db/queryable';
import type { Trust } from '../auth/proxies';
import type { Announcements } from '../db/announcements';
import { listenForAnnouncements } from '../db/announcements';
import { findPicture } from '../db/pictures';
import { findReleaseByHash } from '../db/releases';
import type { Locate } from '../location/locate';
import type { AskWeather } from '../connections/services';
import type { Services } from '../connections/siteServices';
import { createSiteServices } from '../connections/siteServices';
import type { KnownSite, IncomingRequest } from './collect';
import { answerCheckSchema } from '@/core/wire/answerCheck';
import { isGoodAnswer } from './checkAnswer';
import { collect, originHost, loadKnown, parseBody, RequestRejected } from './collect';
import { isBearer } from '../http/bearer';
import type { Metrics } from './metrics';
import { createMetrics } from './metrics';
import type { PageParts } from './pageParts';
import { compressed } from './pageParts';
import { createHealth } from './health';
import { START_HEADER, startHeaders } from '../http/ownStart';
import { takeServerEvents } from './serverEvents';
import { createTryouts, NotTrying } from '../tryout/serve';
import { createTalkHub, serveTalks, Talks } from './talk';
import { noteOlderScript, notePolicyReports } from './reports';
import { createPace } from './pace';
import { cached } from './cached';
import { Busy, createWriter } from './writer';

const BODY_LIMIT = 256 * 1024;
/** A try-out says with every question all that was done in it. */
const TRY_LIMIT = 2 * 1024 * 1024;
const RETRY_SECONDS = 5;
/** How long a site and its release are kept: changes are announced, and where that is not sure they are looked for. */
const KEPT_MS = 60_000;
const KEPT_UNSURE_MS = 1000;
/** Host pages are on other origins, whatever is answered. */
const FOR_ANYBODY = {
  'access-control-allow-origin': '*',
  'access-control-expose-headers': 'retry-after',
  'cross-origin-resource-policy': 'cross-origin',
  'x-content-type-options': 'nosniff',
};

export interface CollectorOptions {
  readonly pool: pg.Pool;
  /** A pool of a server that has whole sites. */
  readonly nodes?: (url: string) => pg.Pool;
  readonly parts: PageParts;
  readonly locate?: Locate;
  readonly askWeather?: AskWeather;
  readonly metrics?: Metrics;
  /** A connection on which changes of sites and releases are announced; without one they are looked for every second. */
  readonly listen?: (() => pg.Client) | undefined;
  /** Requests a minute from one address. */
  readonly perMinute: number;
  readonly trustProxy?: Trust;
  /** Whoever asks for `/metrics` with this as bearer token is the operator; without one, whoever asks from this machine. */
  readonly metricsToken?: string | undefined;
  /** How long a request may take to arrive, in ms. */
  readonly slowestMs?: number;
  /** UTC ms. */
  readonly clock?: () => number;
}

/** Some hundred events. */
const EVENTS_LIMIT = 512 * 1024;

/** The server that host pages talk to. It never answers with a stack trace, and no request can end it. */
export async function createCollector({
  pool,
  parts,
  perMinute,
  trustProxy = () => false,
  locate = () => Promise.resolve(undefined),
  askWeather = () => Promise.resolve(undefined),
  metrics = createMetrics(),
  listen,
  nodes = (url) => nodePool(url),
  clock = Date.now,
  slowestMs = 10_000,
  metricsToken,
}: CollectorOptions): Promise<FastifyInstance> {
  const server = Fastify({
    bodyLimit: BODY_LIMIT,
    trustProxy,
    forceCloseConnections: 'idle',
    // What still comes while it ends is answered as ever, in our own words.
    return503OnClosing: false,
    // Whoever sends a body by drops holds a connection no longer than this.
    requestTimeout: slowestMs,
    http: { headersTimeout: slowestMs, connectionsCheckingInterval: Math.min(1000, slowestMs) },
  });
  const health = createHealth(pool, clock);
  const directory = new Directory(pool, nodes);
  const writer = createWriter(directory, metrics);
  const pace = createPace();
  const announcements: Announcements | undefined =
    listen &&
    listenForAnnouncements(pool, {
      connect: listen,
      heard: forget,
      talked: (siteId, thread) => hub.heard(siteId, thread),
      writes: (...given) => hub.writes(...given),
    });
  const hub = createTalkHub(directory, {
    // Only the home server is listened to.
    isSure: async (siteId) => (announcements?.isSure() ?? false) && (await directory.find(siteId)).pool === pool,
    onFailure: (cause) => console.error(`conversations: ${String(cause)}`),
  });
  const talks = new Talks(directory, hub);
  const known = cached<KnownSite | undefined>({
    ms: () => (announcements?.isSure() ? KEPT_MS : KEPT_UNSURE_MS),
    load: (key) => loadKnown(directory, key),
    now: clock,
  });
  const findServices = createSiteServices(directory, {
    forAll: { locate, askWeather },
    note: (service, { outcome }) => metrics.services.inc({ service, outcome }),
  });
  const services = cached<Services>({
    ms: () => (announcements?.isSure() ? KEPT_MS : KEPT_UNSURE_MS),
    load: (siteId) => findServices(Number(siteId)),
    now: clock,
  });
  const servicesOf = (siteId: number): Promise<Services> => services(String(siteId));
  function forget(site?: string): void {
    known.forget(site);
    services.forget();
  }

  server.addHook('onRequest', (request, reply, done) => {
    // Whoever has hung up by now has no address any more, and needs no answer.
    if (request.socket.remoteAddress === undefined) return void reply.hijack();
    reply.headers(FOR_ANYBODY);
    done();
  });
  // Awaited: a route that is defined before the limit has loaded would not be limited.
  await server.register(rateLimit, {
    max: perMinute,
    timeWindow: '1 minute',
    // How much is left is nobody's business, and four headers an answer.
    addHeaders: { 'x-ratelimit-limit': false, 'x-ratelimit-remaining': false, 'x-ratelimit-reset': false, 'retry-after': true },
    addHeadersOnExceeding: { 'x-ratelimit-limit': false, 'x-ratelimit-remaining': false, 'x-ratelimit-reset': false },
    // Asked once a second at most, whoever asks; the operator's numbers are given to the operator alone.
    allowList: (request) => request.url === '/health',
  });
  // Pages send text/plain: it needs no preflight request, and sendBeacon can send it.
  server.removeAllContentTypeParsers();
  server.addContentTypeParser('*', { parseAs: 'string' }, (_request, body, done) => done(null, body));
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
  server.setErrorHandler(async (cause, request, reply) => {
    // Whoever hangs up before all of a request is here says nothing about the database, which has not been asked.
    if (request.raw.errored === null) health.failed(cause);
    return answerFailure(reply, cause, request.routeOptions.bodyLimit);
  });

  server.get('/health', async (request, reply) => {
    reply.headers(startHeaders(request.headers[START_HEADER]));
    const outage = await health.look();
    return outage ? answerOutage(reply, outage) : reply.send({ ok: true });
  });
  server.get('/metrics', async (request, reply) => {
    // What the collector counts is the operator's business.
    if (!isBearer(request, metricsToken)) return answerError(reply, 404, 'route.unknown', 'Nothing is at /metrics');
    metrics.listening.set(hub.size());
    return reply.type(metrics.registry.contentType).send(await metrics.registry.metrics());
  });
  server.get('/page.js', async (request, reply) => parts.sendEntry(request, reply));
  // Asked for only in a tab that tries something (src/page/main.ts).
  server.get('/try.js', async (request, reply) => parts.sendTry(request, reply));
  server.get<{ Params: { name: string } }>('/parts/:name', async (request, reply) => {
    const sent = parts.send(request, reply);
    if (reply.statusCode === 404)
      await noteOlderScript(directory, request.params.name, request.headers.origin).catch((cause: unknown) => console.error(cause));
    return sent;
  });
  // Where a page's policy names it as its report-uri, browsers tell here what that policy keeps away of ours.
  server.post<{ Params: { key: string } }>('/csp/:key', { bodyLimit: 64 * 1024 }, async ({ params, body, headers }, reply) => {
    const found = await known(params.key);
    if (!found) return answerError(reply, 404, 'site.unknown', 'No site has that key');
    await notePolicyReports(directory, found, body, headers.host ?? '');
    return reply.code(204).send();
  });
  server.get<{ Params: { key: string; hash: string } }>('/r/:key/:hash', async (request, reply) => {
    const { params } = request;
    const found = await known(params.key);
    const document =
      found?.current?.hash === params.hash
        ? found.current.document
        : found && (await findReleaseByHash(directory.of(found.site.id), found.site.id, params.hash));
    if (!document) return answerError(reply, 404, 'release.unknown', 'No release has that hash');
    return compressed(
      request,
      reply.header('cache-control', 'public, max-age=31536000, immutable').type('application/json; charset=utf-8'),
      {
        key: `${params.key} ${params.hash}`,
        text: () => JSON.stringify(document),
      },
    );
  });
  server.get<{ Params: { key: string; file: string } }>('/i/:key/:file', async (request, reply) => {
    const hash = /^([\w-]{22})\.webp$/.exec(request.params.file)?.[1];
    const found = hash && (await known(request.params.key));
    const bytes = found && (await findPicture(directory.of(found.site.id), found.site.id, hash));
    if (!bytes) return answerError(reply, 404, 'picture.unknown', 'No picture has that address');
    return reply.header('cache-control', 'public, max-age=31536000, immutable').type('image/webp').send(bytes);
  });
  // Asked by forms that want it, before they are sent: nothing is kept of it.
  server.post('/check', { bodyLimit: 4096 }, async (request, reply) => {
    const parsed = parseWith(answerCheckSchema, parseBody(request.body));
    if (!parsed.ok) return answerError(reply, 400, 'check.malformed', parsed.issues.map(issueWords).join('; '));
    return reply.header('cache-control', 'no-store').send({ ok: isGoodAnswer(parsed.value) });
  });
  // Between servers: a page has no business there, and what is allowed to pages is not allowed to it.
  server.post<{ Params: { key: string } }>('/events/:key', { bodyLimit: EVENTS_LIMIT }, async ({ params, headers, body }, reply) => {
    const taken = await takeServerEvents(directory, { key: params.key, authorization: headers.authorization ?? '', body, now: clock() });
    if (taken.status !== 200) return answerError(reply, taken.status, taken.code, taken.message);
    return reply.header('cache-control', 'no-store').send({ events: taken.events });
  });
  await serveTalks(server, talks, {
    siteOf: async (key, origin, isAnyOrigin = false) => {
      const found = await known(key);
      const host = originHost(origin);
      return found && (isAnyOrigin || (host && found.site.addresses.includes(host))) ? found.site.id : undefined;
    },
    poolOf: (siteId) => directory.of(siteId),
    refuse: answerError,
  });
  const tryouts = createTryouts({ directory, servicesOf, clock });
  server.post('/try', { bodyLimit: TRY_LIMIT }, async ({ body, ip, headers }, reply) =>
    reply.header('cache-control', 'no-store').send(await tryouts({ body, ip, userAgent: headers['user-agent'] ?? '' })),
  );
  server.post('/c', async (request, reply) => {
    const answer = await collect(sentBy(request), { directory, known, servicesOf, writer, metrics, clock, pace });
    health.wrote(answer);
    return reply.send(answer);
  });
  server.addHook('onResponse', (request, reply, done) => {
    if (request.method === 'POST') metrics.requests.inc({ status: String(reply.statusCode) });
    done();
  });
  // Whoever waits for an answer gets it before the server is gone.
  server.addHook('preClose', async () => talks.end());
  server.addHook('onClose', async () => {
    await writer.drain();
    await announcements?.end();
    await directory.end();
  });
  return server;
}

const header = (value: string | string[] | undefined): string | undefined => (Array.isArray(value) ? value[0] : value);

function sentBy({ body, ip, headers }: FastifyRequest): IncomingRequest {
  return {
    body,
    ip,
    userAgent: headers['user-agent'] ?? '',
    origin: headers.origin,
    doNotTrack: header(headers['dnt']),
    globalPrivacyControl: header(headers['sec-gpc']),
  };
}

function answerError(reply: FastifyReply, status: number, code: string, message: string): FastifyReply {
  return reply.code(status).header('cache-control', 'no-store').send({ error: { code, message } });
}

const OUTAGES: Readonly<Record<Outage, readonly [code: string, message: string]>> = {
  away: ['database.away', 'The database cannot be reached; nothing was taken, send it again'],
  readOnly: ['database.readOnly', 'The database takes nothing at present; nothing was taken, send it again'],
  locked: ['database.locked', 'Somebody holds what is to be written; nothing was taken, send it again'],
  full: ['database.full', 'The database has no room left; nothing was taken, send it again'],
};

const answerOutage = (reply: FastifyReply, outage: Outage): FastifyReply =>
  answerError(reply.header('retry-after', RETRY_SECONDS), 503, ...OUTAGES[outage]);

function answerFailure(reply: FastifyReply, cause: unknown, bodyLimit = BODY_LIMIT): FastifyReply {
  const status = (cause as { statusCode?: number }).statusCode ?? 500;
  if (status === 413) return answerError(reply, 413, 'body.tooLarge', `The body is larger than ${bodyLimit / 1024} KB`);
  if (status === 429) return answerError(reply, 429, 'rate.exceeded', 'Too many requests from this address; wait a minute');
  if (status >= 400 && status < 500) return answerError(reply, status, 'request.bad', (cause as Error).message);
  if (cause instanceof RequestRejected || cause instanceof NotTrying) return answerError(reply, cause.status, cause.code, cause.message);
  if (cause instanceof SiteMoving) return answerError(reply.header('retry-after', RETRY_SECONDS), 503, cause.code, cause.message);
  if (cause instanceof Busy)
    return answerError(
      reply.header('retry-after', RETRY_SECONDS),
      503,
      'collector.busy',
      'Too much waits to be written; send it again in a moment',
    );
  const outage = outageOf(cause);
  if (outage) return answerOutage(reply, outage);
  // Of an address, say: items that cannot be stored are answered one by one.
  if (isUnstorable(cause)) return answerError(reply, 400, 'request.unstorable', 'The database does not take a value of this request');
  console.error(cause);
  return answerError(reply, 500, 'internal', 'Something went wrong here; nothing was taken, send it again');
}
