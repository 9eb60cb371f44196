import { NextResponse } from 'next/server';
import type { z } from 'zod';
import type { Issue } from '@/core/parsing/parse';
import { issueWords, parseWith } from '@/core/parsing/parse';
import { AnalysisAway } from '../analysis/analyse';
import { currentMember, requireSession } from '../auth/current';
import type { Right } from '../auth/rights';
import { may, refusedWords, rightOf } from '../auth/rights';
import { noteSecurity } from '../auth/securityLog';
import { onSessionEnd } from '../auth/sessionEnds';
import { tokenHash } from '../auth/token';
import { SiteMoving } from '../db/directory';
import type { Member } from '../db/members';
import { findMemberBySession } from '../db/members';
import { pool } from '../db/sharedPool';
import { isUnavailable, NotExactlyOneRow } from '../db/queryable';
import { NameTaken, Outdated } from '../db/errors';
import { Refused } from './refused';
import { ChangedMeanwhile, NotPublishable } from '../releases/publish';

/** What an API route answers when it does not do what was asked. `issues` name fields. */
export interface Refusal {
  readonly error: { readonly code: string; readonly message: string; readonly issues?: readonly Issue[] };
}

export { Refused };

/** Calling an address in a private network, or on this machine, is an owner's to allow. `before`: that address was allowed already. @throws Refused */
export function ownerAllows({ role }: Pick<Member, 'role'>, settings: object, before: object = {}): void {
  const [now, then] = [settings, before] as readonly { readonly url?: string; readonly allowPrivate?: boolean }[];
  const wasAllowed = then?.allowPrivate === true && then.url === now?.url;
  if (!may(role, 'own') && now?.allowPrivate === true && !wasAllowed)
    throw new Refused(403, 'role', `As ${role} you cannot allow an address in your own network, or on this machine; ask an owner`);
}

/** Whoever asks, if they are signed in, ask from the studio, and may: the one place where that is decided (`auth/rights.ts`). @throws Refused */
async function allowed(request: Request): Promise<Member> {
  if (request.method !== 'GET' && !isFromHere(request)) throw new Refused(403, 'origin', 'This request does not come from the studio');
  const member = await currentMember();
  if (!member) throw new Refused(401, 'signedOut', 'You are signed out; sign in and try again. What you typed is still here.');
  const right = rightOf(new URL(request.url).pathname, request.method);
  if (right === undefined) throw new Refused(404, 'route.unknown', 'Nothing is asked for here');
  if (right !== 'anybody' && !may(member.role, right))
    noteSecurity({ what: 'refused', result: member.role, who: member.id, of: `${request.method} ${new URL(request.url).pathname}` });
  if (right !== 'anybody') demand(member, right);
  return member;
}

/** For what depends on more than the route. @throws Refused */
export function demand({ role }: Pick<Member, 'role'>, right: Right): void {
  if (!may(role, right)) throw new Refused(403, 'role', refusedWords(role, right));
}

/** The four things an edge does: identify, parse, call, answer. Failures become JSON, never a stack trace. */
export async function answer(request: Request, work: (member: Member) => Promise<unknown>): Promise<NextResponse> {
  try {
    return NextResponse.json((await work(await allowed(request))) ?? { ok: true });
  } catch (cause) {
    return refusal(cause);
  }
}

/** The same for what is no JSON, and is opened by a link: whoever is signed out is sent to sign in. */
export async function download(request: Request, work: (member: Member) => Promise<Response>): Promise<Response> {
  try {
    return await work(await allowed(request));
  } catch (cause) {
    if (cause instanceof Refused && cause.status === 401) return new Response(null, { status: 303, headers: { location: '/sign-in' } });
    return refusal(cause);
  }
}

/** The same for bytes that stay as they are for a while: a browser that has them is told so. */
export async function answerInBytes(
  request: Request,
  work: (member: Member) => Promise<{ tag: string; parts: readonly Uint8Array[]; type?: string }>,
): Promise<Response> {
  try {
    const member = await allowed(request);
    const { tag, parts, type = 'application/octet-stream' } = await work(member);
    const headers = { etag: `"${tag}"`, 'cache-control': 'private, no-cache', 'content-type': type };
    if (request.headers.get('if-none-match') === headers.etag) return new Response(null, { status: 304, headers });
    return new Response(new Blob(parts.map((part) => new Uint8Array(part))), { headers });
  } catch (cause) {
    return refusal(cause);
  }
}

/** The same for an answer that grows: one JSON text a line, each taking the place of the one before; the last line may be a refusal. */
export async function answerInLines(
  request: Request,
  prepare: (member: Member) => Promise<(emit: (value: unknown) => void) => Promise<unknown>>,
): Promise<Response> {
  try {
    const member = await allowed(request);
    const work = await prepare(member);
    const encoder = new TextEncoder();
    const body = new ReadableStream<Uint8Array>({
      start: async (controller) => {
        const emit = (value: unknown): void => controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
        try {
          emit(await work(emit));
        } catch (cause) {
          if (request.signal.aborted) return;
          emit(await refusal(cause).json());
        }
        controller.close();
      },
    });
    return new Response(body, { headers: { 'content-type': 'application/x-ndjson; charset=utf-8', 'cache-control': 'no-store' } });
  } catch (cause) {
    return refusal(cause);
  }
}

const HEARTBEAT_MS = 15_000;

/** An event stream for as long as somebody listens: `begin` gets what says an event, and returns what ends the listening. */
export async function answerInEvents(
  request: Request,
  begin: (member: Member, say: (event: string, data: unknown) => void) => () => void,
): Promise<Response> {
  try {
    const member = await allowed(request);
    const session = tokenHash(await requireSession());
    const encoder = new TextEncoder();
    let end = (): void => undefined;
    const body = new ReadableStream<Uint8Array>({
      start: (controller) => {
        const write = (text: string): void => controller.enqueue(encoder.encode(text));
        const stop = begin(member, (event, data) => write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`));
        const heart = setInterval(() => {
          write(': still here\n\n');
          // Ended elsewhere, or not allowed this any more.
          void isStill(session, member).then(
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
        request.signal.addEventListener('abort', close);
      },
      cancel: () => end(),
    });
    return new Response(body, {
      headers: { 'content-type': 'text/event-stream; charset=utf-8', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
    });
  } catch (cause) {
    return refusal(cause);
  }
}

/** Whether a session is open, of the same member at the same site with the same role. */
async function isStill(session: Buffer, { id, siteId, role }: Member): Promise<boolean> {
  const now = await findMemberBySession(pool(), session);
  return now?.id === id && now.siteId === siteId && now.role === role;
}

/** A form on another site must not act with this session; browsers send Origin with every POST. */
function isFromHere(request: Request): boolean {
  const origin = request.headers.get('origin');
  return origin !== null && URL.canParse(origin) && new URL(origin).host === request.headers.get('host');
}

/** Whoever asked has gone, or has asked something newer. */
const OVERTAKEN = 499;

function refusal(cause: unknown): NextResponse<Refusal> {
  const say = (status: number, code: string, message: string, issues?: readonly Issue[]) =>
    NextResponse.json({ error: { code, message, ...(issues ? { issues } : {}) } }, { status });
  if (cause instanceof DOMException && cause.name === 'AbortError') return say(OVERTAKEN, 'aborted', 'Overtaken by a newer request');
  if (cause instanceof Refused) return say(cause.status, cause.code, cause.message, cause.issues);
  if (cause instanceof NameTaken || cause instanceof Outdated) return say(409, cause.code, cause.message);
  if (cause instanceof NotPublishable || cause instanceof ChangedMeanwhile) return say(409, cause.code, cause.message);
  if (cause instanceof NotExactlyOneRow) return say(404, 'notFound', 'That is not here any more; it may have been deleted elsewhere');
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
export function queryAs<T>(request: Request, schema: z.ZodType<T>): T {
  const parsed = parseWith(schema, Object.fromEntries(new URL(request.url).searchParams));
  if (!parsed.ok) throw new Refused(422, 'query.shape', parsed.issues.map(issueWords).join('; '), parsed.issues);
  return parsed.value;
}

/** The request's body as it came, read no further than it may be long. */
export async function bytesOf(request: Request, most: number): Promise<Buffer> {
  const parts: Uint8Array[] = [];
  let length = 0;
  for await (const part of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    length += part.length;
    if (length > most) throw new Refused(413, 'body.tooLarge', `The request is larger than ${most / 1024 / 1024} MB`);
    parts.push(part);
  }
  return Buffer.concat(parts);
}

/** Of a request in JSON. */
const MOST_JSON = 1024 * 1024;

/** The request's JSON as the schema has it, or a refusal that names every field in the wrong. */
export async function bodyAs<T>(request: Request, schema: z.ZodType<T>): Promise<T> {
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
