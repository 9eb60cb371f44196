import type { Params } from '@/server/api/endpoint';
import type { Api } from '@/server/api/table';
import type { Answered } from './send';
import { ask } from './send';
import { readLines } from './readLines';

/** A request of the studio's API: "PUT /api/leads/{id}". */
export type RequestName = keyof Api;

/** What comes of a value on its way through JSON. */
type Sent<T> = T extends Date ? string : T extends object ? { [K in keyof T]: Sent<T[K]> } : T;
interface Done {
  readonly ok: true;
}
export type AnswerTo<K extends RequestName> = [Api[K]['answer']] extends [void]
  ? Done
  : Sent<undefined extends Api[K]['answer'] ? Exclude<Api[K]['answer'], undefined> | Done : Api[K]['answer']>;
/** What is given need not be ours to change. */
type Lent<T> = T extends object ? { readonly [K in keyof T]: Lent<T[K]> } : T;

type PathOf<K extends RequestName> = K extends `${string} ${infer Path}` ? Path : never;
type Part<Name extends string, T> = [T] extends [undefined]
  ? unknown
  : Record<never, never> extends T
    ? { readonly [N in Name]?: Lent<T> }
    : { readonly [N in Name]: Lent<T> };
type Named<K extends RequestName> = (unknown extends Params<PathOf<K>>
  ? unknown
  : { readonly params: { readonly [N in keyof Params<PathOf<K>>]: string | number } }) &
  Part<'query', Api[K]['query']> & {
    /** Further parameters of the address, where a request takes a list of terms. */
    readonly more?: string;
  };
export type Given<K extends RequestName> = Named<K> & Part<'body', Api[K]['body']> & { readonly signal?: AbortSignal };
/** Left out where nothing has to be given. */
type Last<T> = Record<never, never> extends T ? [given?: T] : [given: T];

interface AnyGiven {
  readonly params?: Readonly<Record<string, string | number>>;
  readonly query?: Readonly<Record<string, unknown>>;
  readonly more?: string;
  readonly body?: unknown;
  readonly signal?: AbortSignal;
}

/** Asks the studio's API. Never throws: a network that is away is a refusal like any other. */
export function call<K extends RequestName>(name: K, ...[given]: Last<Given<K>>): Promise<Answered<AnswerTo<K>>> {
  const { body, signal }: AnyGiven = given ?? {};
  const sent = body === undefined ? {} : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } };
  return ask(filled(name, given), { method: methodOf(name), ...sent }, signal);
}

/** The same for who can do nothing without it: a refusal is thrown with its words. */
export async function fetched<K extends RequestName>(name: K, ...given: Last<Given<K>>): Promise<AnswerTo<K>> {
  const answer = await call(name, ...given);
  if (!answer.ok) throw new Error(answer.message);
  return answer.value;
}

/** The same with a body that somebody else has put together; the server says what is wrong with it. */
export const callWith = <K extends RequestName>(name: K, body: unknown, params: AnyGiven['params'] = {}): Promise<Answered<AnswerTo<K>>> =>
  ask(filled(name, { params }), { method: methodOf(name), body: JSON.stringify(body), headers: { 'content-type': 'application/json' } });

/** The same with a file as it is. */
export const callWithFile = <K extends RequestName>(
  name: K,
  { file, ...given }: Named<K> & { readonly file: Blob },
): Promise<Answered<AnswerTo<K>>> => ask(filled(name, given), { method: methodOf(name), body: file });

/** The same for an answer that grows; a refusal is thrown with its words. */
export const callInLines = <K extends RequestName>(
  name: K,
  { onLine, ...given }: Given<K> & { readonly signal: AbortSignal; readonly onLine: (value: AnswerTo<K>) => void },
): Promise<void> => readLines(filled(name, given), (given as AnyGiven).body, { signal: (given as { signal: AbortSignal }).signal, onLine });

/** Where something is that a link leads to, a picture shows, or a stream comes from. */
export const addressOf = <K extends RequestName>(name: K, ...[given]: Last<Named<K>>): string => filled(name, given);

const methodOf = (name: RequestName): string => name.slice(0, name.indexOf(' '));

function filled(name: RequestName, given: unknown): string {
  const { params = {}, query = {}, more = '' } = (given ?? {}) as AnyGiven;
  const path = name.slice(name.indexOf(' ') + 1).replace(/\{(\w+)\}/g, (_, key: string) => encodeURIComponent(params[key] ?? ''));
  const asked = new URLSearchParams(
    Object.entries(query).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value as string | number)]])),
  );
  const all = [asked.toString(), more].filter((part) => part !== '').join('&');
  return all === '' ? path : `${path}?${all}`;
}
