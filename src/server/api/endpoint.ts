import type { z } from 'zod';
import type { Right } from '../auth/rights';
import type { From } from '../auth/signIn';
import type { Member } from '../db/members';
import type { Json } from '../openapi/shapes';

export type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';

/** What stands in a path's braces: "/api/leads/{id}" has an `id`. */
export type Params<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}`
  ? { readonly [K in Name]: string } & Params<Rest>
  : unknown;

/** What is asked: whoever asks may, and everything has been checked. */
export interface Asked<Path extends string, Query, Body> {
  readonly member: Member;
  readonly params: Params<Path>;
  readonly query: Query;
  readonly body: Body;
  /** The token of the session that is signed in by. */
  readonly session: string;
  readonly from: Required<From>;
  /** Whoever asked has gone. */
  readonly signal: AbortSignal;
  readonly request: Request;
}

interface Said<M extends Method, Path extends string, QueryIn, Query, BodyIn, Body> {
  readonly method: M;
  readonly path: Path;
  /** Who may ask it; `anybody` need not be signed in. */
  readonly right: Right | 'anybody';
  readonly says: string;
  /** What is answered, in words. */
  readonly answers: string;
  readonly query?: z.ZodType<Query, QueryIn>;
  readonly body?: z.ZodType<Body, BodyIn>;
  /** The body as the document has it, where shared schemas say it better than the one that checks it. */
  readonly bodyShape?: Json;
  /** Parameters of the address that `run` reads itself. */
  readonly alsoAsked?: Readonly<Record<string, Json>>;
  /** Media type of the answer, unless it is JSON. */
  readonly type?: string;
}

/** One request that the studio answers. Everything that is known of it follows from this object: handler, right, document, client, fuzz. */
export type Endpoint<M extends Method = Method, Path extends string = string, QueryIn = unknown, BodyIn = unknown, Answer = unknown> = Said<
  M,
  Path,
  QueryIn,
  // What a schema gives is between it and `run`.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  any,
  BodyIn,
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  any
> & {
  readonly as?: 'lines' | 'events' | 'bytes' | 'file' | undefined;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly run: (...asked: any[]) => unknown;
  /** Never there: types for the client. */
  readonly carries?: { readonly query: QueryIn; readonly body: BodyIn; readonly answer: Answer };
};

type Of<P extends string, Q, B, R> = { readonly run: (asked: Asked<P, Q, B>) => R };

/** One that is answered in JSON. */
export function endpoint<const M extends Method, const P extends string, Answer = void, QI = undefined, Q = QI, BI = undefined, B = BI>(
  one: Said<M, P, QI, Q, BI, B> & Of<P, Q, B, Answer | Promise<Answer>>,
): Endpoint<M, P, QI, BI, Answer> {
  return one;
}

type Growing<Answer> = Promise<(emit: (value: Answer) => void) => Promise<Answer>>;

/** One whose answer grows: JSON lines, each in the place of the one before. */
export function lines<const M extends Method, const P extends string, Answer, QI = undefined, Q = QI, BI = undefined, B = BI>(
  one: Said<M, P, QI, Q, BI, B> & Of<P, Q, B, Growing<Answer>>,
): Endpoint<M, P, QI, BI, Answer> {
  return { ...one, as: 'lines', type: 'application/x-ndjson' };
}

/** One that says events for as long as somebody listens; what `run` gives ends that. */
export function events<const P extends string>(
  one: Omit<Said<'GET', P, undefined, undefined, undefined, undefined>, 'method'> & {
    readonly run: (asked: Asked<P, undefined, undefined>, say: (event: string, data: unknown) => void) => () => void;
  },
): Endpoint<'GET', P, undefined, undefined, never> {
  return { ...one, method: 'GET', as: 'events', type: 'text/event-stream' };
}

interface Bytes {
  readonly tag: string;
  readonly parts: readonly Uint8Array[];
  readonly type?: string;
}

/** One that is answered in bytes which stay as they are for a while: a browser that has them is told so. */
export function bytes<const P extends string, QI = undefined, Q = QI>(
  one: Omit<Said<'GET', P, QI, Q, undefined, undefined>, 'method'> & Of<P, Q, undefined, Promise<Bytes>>,
): Endpoint<'GET', P, QI, undefined, never> {
  return { type: 'application/octet-stream', ...one, method: 'GET', as: 'bytes' };
}

/** One that is opened by a link: whoever is signed out is sent to sign in. */
export function file<const P extends string, QI = undefined, Q = QI>(
  one: Omit<Said<'GET', P, QI, Q, undefined, undefined>, 'method'> & Of<P, Q, undefined, Promise<Response>>,
): Endpoint<'GET', P, QI, undefined, never> {
  return { ...one, method: 'GET', as: 'file' };
}
