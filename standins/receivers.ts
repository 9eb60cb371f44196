import { createHash } from 'node:crypto';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type { Fault } from './faults';
import { misbehave } from './faults';
import { arrived, page } from './page';

const MOST_KEPT = 50_000;
/** The keys that the mail list and the ad audience know. */
export const LIST_KEY = 'lists-of-tarnhollow';
export const AUDIENCE_KEY = 'audiences-of-tarnhollow';

export interface HookReceived {
  readonly id: string;
  readonly timestamp: string;
  readonly signature: string;
  readonly body: string;
  /** How often it came: the same id again is the same. */
  readonly times: number;
}

export interface MemberReceived {
  readonly list: string;
  readonly member: string;
  readonly body: string;
  /** Of what brought them here, and how often each came. */
  readonly deliveries: Readonly<Record<string, number>>;
  readonly tags: readonly string[];
}

export interface PersonReceived {
  readonly audience: string;
  readonly person: string;
}

const hashOf = (email: string): string => createHash('sha256').update(email.trim().toLowerCase()).digest('hex');

/** A web hook that keeps what it is given, a mail list and an ad audience; what arrived can be read under `/hook`, `/lists` and `/audiences`, and as JSON with `.json`. */
export function serveReceivers(server: FastifyInstance, faultOf: (service: string) => Fault): void {
  server.removeContentTypeParser('application/json');
  server.addContentTypeParser('application/json', { parseAs: 'string' }, (request, body, done) => {
    // The hook keeps what came to the letter: it is signed.
    if (request.url.startsWith('/hook')) return done(null, body);
    try {
      done(null, body === '' ? undefined : JSON.parse(String(body)));
    } catch (cause) {
      done(cause as Error);
    }
  });
  serveHook(server, () => faultOf('hook'));
  serveLists(server, () => faultOf('lists'));
  serveAudiences(server, () => faultOf('audiences'));
}

const show = (reply: FastifyReply, title: string, rows: readonly (readonly [string, string])[]): FastifyReply =>
  reply.type('text/html; charset=utf-8').send(page(title, arrived(rows)));

function serveHook(server: FastifyInstance, fault: () => Fault): void {
  const hooks = new Map<string, HookReceived>();
  server.post('/hook', async ({ headers, body }, reply) => {
    const text = typeof body === 'string' ? body : JSON.stringify(body);
    if (await misbehave(fault(), reply, (address) => text.includes(`"${address}"`))) return reply;
    const of = (name: string): string => String(headers[name] ?? '');
    const id = of('webhook-id');
    hooks.set(id, {
      id,
      timestamp: of('webhook-timestamp'),
      signature: of('webhook-signature'),
      body: text,
      times: (hooks.get(id)?.times ?? 0) + 1,
    });
    if (hooks.size > MOST_KEPT) hooks.delete(hooks.keys().next().value ?? '');
    return { ok: true };
  });
  server.get('/hook.json', () => [...hooks.values()].reverse());
  server.get('/hook', (_request, reply) =>
    show(
      reply,
      'Web hook',
      [...hooks.values()].reverse().map(({ id, body }) => [id, body]),
    ),
  );
}

/** Answers in the place of a service that misbehaves, or is asked by somebody without its key. True where it has. */
const refusing =
  (fault: () => Fault, key: string) =>
  async ({ headers, params }: Pick<FastifyRequest, 'headers' | 'params'>, reply: FastifyReply): Promise<boolean> => {
    const named = Object.values(params as Record<string, string>);
    if (await misbehave(fault(), reply, (address) => named.includes(hashOf(address)))) return true;
    if (headers.authorization === `Bearer ${key}`) return false;
    await reply.code(401).send({ error: { code: 'key', message: 'No such key' } });
    return true;
  };

type MemberParams = { Params: { list: string; member: string } };
type TagParams = { Params: { list: string; member: string; tag: string } };

function serveLists(server: FastifyInstance, fault: () => Fault): void {
  const members = new Map<string, MemberReceived>();
  const refuses = refusing(fault, LIST_KEY);
  const keyOf = ({ list, member }: { list: string; member: string }): string => `${list} ${member}`;
  const put = (params: { list: string; member: string }, change: Partial<MemberReceived>, delivery: string): void => {
    const before = members.get(keyOf(params));
    const { list, member } = params;
    members.set(keyOf(params), {
      list,
      member,
      body: before?.body ?? '',
      tags: before?.tags ?? [],
      ...change,
      deliveries: { ...before?.deliveries, [delivery]: (before?.deliveries[delivery] ?? 0) + 1 },
    });
  };
  const delivery = (headers: FastifyRequest['headers']): string => [headers['idempotency-key']].flat()[0] ?? 'without a key';

  server.get<{ Params: { list: string } }>('/lists/:list', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    const { list } = request.params;
    return { list, members: [...members.values()].filter((one) => one.list === list).length };
  });
  server.put<MemberParams>('/lists/:list/members/:member', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    put(request.params, { body: JSON.stringify(request.body) }, delivery(request.headers));
    return { ok: true };
  });
  server.delete<MemberParams>('/lists/:list/members/:member', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    return members.delete(keyOf(request.params))
      ? { ok: true }
      : reply.code(404).send({ error: { code: 'member', message: 'Nobody of that name' } });
  });
  server.put<TagParams>('/lists/:list/members/:member/tags/:tag', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    const tags = members.get(keyOf(request.params))?.tags ?? [];
    const body = members.get(keyOf(request.params))?.body || JSON.stringify(request.body);
    put(request.params, { body, tags: [...new Set([...tags, request.params.tag])] }, delivery(request.headers));
    return { ok: true };
  });
  server.delete<TagParams>('/lists/:list/members/:member/tags/:tag', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    const member = members.get(keyOf(request.params));
    if (!member?.tags.includes(request.params.tag)) return reply.code(404).send({ error: { code: 'tag', message: 'No such tag' } });
    const tags = member.tags.filter((tag) => tag !== request.params.tag);
    // Whoever came by a tag alone, and has none left, is no member any more.
    if (tags.length === 0 && !member.body.includes('"fields"')) members.delete(keyOf(request.params));
    else put(request.params, { tags }, delivery(request.headers));
    return { ok: true };
  });
  server.get('/lists.json', () => [...members.values()].reverse());
  server.get('/lists', (_request, reply) =>
    show(
      reply,
      'Mail lists',
      [...members.values()].reverse().map(({ list, body, tags }) => [`${list}${tags.length > 0 ? ` · ${tags.join(', ')}` : ''}`, body]),
    ),
  );
}

function serveAudiences(server: FastifyInstance, fault: () => Fault): void {
  const people = new Map<string, PersonReceived>();
  type Params = { Params: { audience: string; person: string } };
  const refuses = refusing(fault, AUDIENCE_KEY);
  const keyOf = ({ audience, person }: PersonReceived): string => `${audience} ${person}`;
  server.get<{ Params: { audience: string } }>('/audiences/:audience', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    const { audience } = request.params;
    return { audience, people: [...people.values()].filter((one) => one.audience === audience).length };
  });
  server.put<Params>('/audiences/:audience/people/:person', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    if (!/^[0-9a-f]{64}$/.test(request.params.person))
      return reply.code(400).send({ error: { code: 'person', message: 'Expected SHA-256 in hex' } });
    people.set(keyOf(request.params), { ...request.params });
    return { ok: true };
  });
  server.delete<Params>('/audiences/:audience/people/:person', async (request, reply) => {
    if (await refuses(request, reply)) return reply;
    return people.delete(keyOf(request.params))
      ? { ok: true }
      : reply.code(404).send({ error: { code: 'person', message: 'Nobody of that name' } });
  });
  server.get('/audiences.json', () => [...people.values()].reverse());
  server.get('/audiences', (_request, reply) =>
    show(
      reply,
      'Ad audiences',
      [...people.values()].reverse().map(({ audience, person }) => [audience, person]),
    ),
  );
}
