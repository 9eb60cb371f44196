import type { z } from 'zod';
import { issueWords, parseWith } from '@/core/parsing/parse';
import type { Issue } from '@/core/parsing/parse';
import { AnalysisAway } from '../analysis/analyse';
import { may } from '../auth/rights';
import { noteSecurity } from '../auth/securityLog';
import { SESSION_COOKIE } from '../auth/sessionCookie';
import { onSessionEnd } from '../auth/sessionEnds';
import { memberOf } from '../auth/signIn';
import { tokenHash } from '../auth/token';
import { SiteMoving } from '../db/directory';
import { NameTaken, Outdated } from '../db/errors';
import { findMemberBySession } from '../db/members';
import type { Member } from '../db/members';
import { isUnavailable, NotExactlyOneRow } from '../db/queryable';
import { pool } from '../db/sharedPool';
import { OutOfBounds } from '../bounded/bounded';
import { ADDRESS_HEADER } from '../http/address';
import { bytesOf, demand } from '../http/api';
import { Refused } from '../http/refused';
import { ChangedMeanwhile, NotPublishable } from '../releases/publish';
import type { Asked, Endpoint } from './endpoint';
import { endpointAt } from './table';

/** What is answered where it is not done as was asked. `issues` name fields. */
export interface Refusal {
  readonly error: { readonly code: string; readonly message: string; readonly issues?: readonly Issue[] };
}

type AnyAsked = Asked<string, unknown, unknown>;

/** Answers a request of the studio's API: finds it, asks who may, checks what came, does it. Failures become JSON, never a stack trace. */
export async function serve(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url);
  const found = endpointAt(request.method, pathname);
  if (!found) return refusal(new Refused(404, 'route.unknown', 'Nothing is asked for here'));
  const { endpoint, params, methods } = found;
  if (!endpoint)
    return refusal(new Refused(405, 'route.method', `${request.method} is not asked here, but ${methods.join(', ')}`), {
      allow: methods.join(', '),
    });
  try {
    const session = cookie(request, SESSION_COOKIE) ?? '';
    const member = await allowed(request, endpoint, session);
    const asked = {
      member,
      params,
      query: endpoint.query && queryAs(request, endpoint.query),
      body: endpoint.body && (await bodyAs(request, endpoint.body)),
      session,
      from: { address: request.headers.get(ADDRESS_HEADER) ?? 'unknown', agent: request.headers.get('user-agent') ?? '' },
      signal: request.signal,
      request,
    } as AnyAsked;
    return await WAYS[endpoint.as ?? 'json'](endpoint, asked);
  } catch (cause) {
    // What is opened by a link leads whoever is signed out to sign in.
    if (endpoint.as === 'file' && cause instanceof Refused && cause.status === 401)
      return new Response(null, { status: 303, headers: { location: '/sign-in' } });
    return refusal(cause);
  }
}

/** Whoever asks, if they are signed in, ask from the studio, and may: the one place where that is decided. @throws Refused */
async function allowed(request: Request, { right, method }: Endpoint, session: string): Promise<Member | undefined> {
  if (right === 'anybody') return undefined;
  if (method !== 'GET' && !isFromHere(request)) throw new Refused(403, 'origin', 'This request does not come from the studio');
  const member = session === '' ? undefined : await memberOf(pool(), session);
  if (!member) throw new Refused(401, 'signedOut', 'You are signed out; sign in and try again. What you typed is still here.');
  if (!may(member.role, right))
    noteSecurity({ what: 'refused', result: member.role, who: member.id, of: `${method} ${new URL(request.url).pathname}` });
  demand(member, right);
  return member;
}

/** A form on another site must not act with this session; browsers send Origin with every POST. */
function isFromHere(request: Request): boolean {
  const origin = request.headers.get('origin');
  return origin !== null && URL.canParse(origin) && new URL(origin).host === request.headers.get('host');
}

const cookie = (request: Request, name: string): string | undefined =>
  (request.headers.get('cookie') ?? '')
    .split(';')
    .map((pair) => pair.trim())
    .find((pair) => pair.startsWith(`${name}=`))
    ?.slice(name.length + 1);

/** What is told of people and of a site is kept by no browser and nobody on the way. */
const NOT_KEPT = { 'cache-control': 'no-store' } as const;

type Way = (endpoint: Endpoint, asked: AnyAsked) => Promise<Response>;
const WAYS: Readonly<Record<NonNullable<Endpoint['as']> | 'json', Way>> = {
  json: async ({ run }, asked) => Response.json((await run(asked)) ?? { ok: true }, { headers: NOT_KEPT }),
  file: async ({ run }, asked) => (await run(asked)) as Response,
  bytes: async ({ run }, asked) => {
    const {
      tag,
      parts,
      type = 'application/octet-stream',
    } = (await run(asked)) as {
      tag: string;
      parts: readonly Uint8Array[];
      type?: string;
    };
    const headers = { etag: `"${tag}"`, 'cache-control': 'private, no-cache', 'content-type': type };
    if (asked.request.headers.get('if-none-match') === headers.etag) return new Response(null, { status: 304, headers });
    return new Response(new Blob(parts.map((part) => new Uint8Array(part))), { headers });
  },
  lines: inLines,
  events: inEvents,
};

/** One JSON text a line, each taking the place of the one before; the last may be a refusal. */
async function inLines({ run }: Endpoint, asked: AnyAsked): Promise<Response> {
  const work = (await run(asked)) as (emit: (value: unknown) => void) => Promise<unknown>;
  const encoder = new TextEncoder();
  const body = new ReadableStream<Uint8Array>({
    start: async (controller) => {
      const emit = (value: unknown): void => controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
      try {
        emit(await work(emit));
      } catch (cause) {
        if (asked.signal.aborted) return;
        emit(await refusal(cause).json());
      }
      controller.close();
    },
  });
  return new Response(body, { headers: { 'content-type': 'application/x-ndjson; charset=utf-8', 'cache-control': 'no-store' } });
}

const HEARTBEAT_MS = 15_000;

/** An event stream for as long as somebody listens and may. */
function inEvents({ run }: Endpoint, asked: AnyAsked): Promise<Response> {
  const session = tokenHash(asked.session);
  const encoder = new TextEncoder();
  let end = (): void => undefined;
  const body = new ReadableStream<Uint8Array>({
    start: (controller) => {
      const write = (text: string): void => controller.enqueue(encoder.encode(text));
      const say = (event: string, data: unknown): void => write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`);
      const stop = run(asked, say) as () => void;
      const heart = setInterval(() => {
        write(': still here\n\n');
        // Ended elsewhere, or not allowed this any more.
        void isStill(session, asked.member).then(
          (still) => still || close(),
          (cause: unknown) => console.error(cause),
        );
      }, HEARTBEAT_MS);
      const forget = onSessionEnd(session, () => close());
      let isOver = false;
      end = () => {
        if (isOver) return;
        isOver = true;
        clearInterval(heart);
        forget();
        stop();
      };
      const close = (): void => {
        if (isOver) return;
        end();
        controller.close();
      };
      asked.signal.addEventListener('abort', close);
    },
    cancel: () => end(),
  });
  const headers = { 'content-type': 'text/event-stream; charset=utf-8', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };
  return Promise.resolve(new Response(body, { headers }));
}

/** Whether a session is open, of the same member at the same site with the same role. */
async function isStill(session: Buffer, { id, siteId, role }: Member): Promise<boolean> {
  const now = await findMemberBySession(pool(), session);
  return now?.id === id && now.siteId === siteId && now.role === role;
}

/** Whoever asked has gone, or has asked something newer. */
const OVERTAKEN = 499;

function refusal(cause: unknown, headers: Readonly<Record<string, string>> = {}): Response {
  const say = (status: number, code: string, message: string, issues?: readonly Issue[]) =>
    Response.json({ error: { code, message, ...(issues ? { issues } : {}) } } satisfies Refusal, {
      status,
      headers: { ...NOT_KEPT, ...headers },
    });
  if (cause instanceof DOMException && cause.name === 'AbortError') return say(OVERTAKEN, 'aborted', 'Overtaken by a newer request');
  if (cause instanceof Refused) return say(cause.status, cause.code, cause.message, cause.issues);
  if (cause instanceof NameTaken || cause instanceof Outdated) return say(409, cause.code, cause.message);
  if (cause instanceof NotPublishable || cause instanceof ChangedMeanwhile) return say(409, cause.code, cause.message);
  if (cause instanceof NotExactlyOneRow) return say(404, 'notFound', 'That is not here any more; it may have been deleted elsewhere');
  if (cause instanceof OutOfBounds) return say(cause.code === 'file.busy' ? 503 : 422, cause.code, cause.message);
  if (cause instanceof SiteMoving)
    return say(503, cause.code, 'The site is being moved to another server; nothing was changed. Try again in some seconds.');
  if (cause instanceof AnalysisAway) {
    console.error(cause.cause);
    return say(503, cause.code, cause.message);
  }
  if (isUnavailable(cause))
    return say(503, 'database.away', 'The database cannot be reached. Nothing was changed; it is tried again when you go on.');
  console.error(cause);
  return say(500, 'internal', 'Something went wrong on our side. Nothing was changed.');
}

/** The address's parameters as the schema has them, or a refusal that names every one in the wrong. */
function queryAs(request: Request, schema: z.ZodType): unknown {
  const { searchParams } = new URL(request.url);
  const parsed = parseWith(schema, Object.fromEntries(searchParams));
  if (!parsed.ok) throw new Refused(422, 'query.shape', parsed.issues.map(issueWords).join('; '), parsed.issues);
  return parsed.value;
}

/** Of a request in JSON. */
const MOST_JSON = 1024 * 1024;

/** The request's JSON as the schema has it, or a refusal that names every field in the wrong. */
async function bodyAs(request: Request, schema: z.ZodType): Promise<unknown> {
  const text = (await bytesOf(request, MOST_JSON)).toString('utf8');
  let input: unknown;
  try {
    input = JSON.parse(text);
  } catch (cause) {
    throw new Refused(400, 'body.notJson', `The request is not JSON: ${cause instanceof Error ? cause.message : 'unreadable'}`);
  }
  const parsed = parseWith(schema, input);
  if (!parsed.ok) throw new Refused(422, 'body.shape', parsed.issues.map(issueWords).join('; '), parsed.issues);
  return parsed.value;
}
