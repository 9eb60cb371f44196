import type { FastifyInstance } from 'fastify';
import type { Fault } from './faults';
import { misbehave } from './faults';

const MOST_KEPT = 20_000;
/** The key that the mail list knows. */
export const LIST_KEY = 'lists-of-tarnhollow';

export interface HookReceived {
  readonly id: string;
  readonly timestamp: string;
  readonly signature: string;
  readonly body: string;
  /** How often it came: the same id again is the same. */
  readonly times: number;
}

/** A web hook that keeps what it is given, and a mail list; what arrived can be read under `/hook` and `/lists`, and as JSON with `.json`. */
export function serveReceivers(server: FastifyInstance, faultOf: (service: string) => Fault): void {
  const hooks = new Map<string, HookReceived>();
  const members = new Map<string, { readonly list: string; readonly member: string; readonly body: string; readonly times: number }>();
  const text = (body: unknown): string => (typeof body === 'string' ? body : JSON.stringify(body));
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

  server.post('/hook', async ({ headers, body }, reply) => {
    if (await misbehave(faultOf('hook'), reply)) return reply;
    const of = (name: string): string => String(headers[name] ?? '');
    const id = of('webhook-id');
    hooks.set(id, {
      id,
      timestamp: of('webhook-timestamp'),
      signature: of('webhook-signature'),
      body: text(body),
      times: (hooks.get(id)?.times ?? 0) + 1,
    });
    if (hooks.size > MOST_KEPT) hooks.delete(hooks.keys().next().value ?? '');
    return { ok: true };
  });
  server.get('/hook.json', () => [...hooks.values()].reverse());
  server.get('/hook', (_request, reply) =>
    reply.type('text/html; charset=utf-8').send(
      page(
        'Web hook',
        [...hooks.values()].reverse().map(({ id, body }) => [id, body]),
      ),
    ),
  );

  server.get<{ Params: { list: string } }>('/lists/:list', async ({ headers, params }, reply) => {
    if (await misbehave(faultOf('lists'), reply)) return reply;
    if (headers.authorization !== `Bearer ${LIST_KEY}`) return reply.code(401).send({ error: { code: 'key', message: 'No such key' } });
    return { list: params.list, members: [...members.values()].filter(({ list }) => list === params.list).length };
  });
  server.put<{ Params: { list: string; member: string } }>('/lists/:list/members/:member', async ({ headers, params, body }, reply) => {
    if (await misbehave(faultOf('lists'), reply)) return reply;
    if (headers.authorization !== `Bearer ${LIST_KEY}`) return reply.code(401).send({ error: { code: 'key', message: 'No such key' } });
    const key = `${params.list} ${params.member}`;
    members.set(key, { ...params, body: text(body), times: (members.get(key)?.times ?? 0) + 1 });
    return { ok: true };
  });
  server.get('/lists.json', () => [...members.values()].reverse());
  server.get('/lists', (_request, reply) =>
    reply.type('text/html; charset=utf-8').send(
      page(
        'Mail lists',
        [...members.values()].reverse().map(({ list, body }) => [list, body]),
      ),
    ),
  );
}

const ENTITIES: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };
const plain = (text: string): string => text.replace(/[&<>"]/g, (one) => ENTITIES[one] ?? one);
const page = (title: string, rows: readonly (readonly [string, string])[]): string =>
  `<!doctype html><html lang="en"><meta charset="utf-8"><title>${title}</title><style>body{font:15px/1.5 system-ui,sans-serif;max-width:860px;margin:32px auto;padding:0 16px}pre{white-space:pre-wrap;border-top:1px solid #ccc}</style><h1>${title}</h1>${
    rows.map(([head, body]) => `<pre><b>${plain(head)}</b>\n${plain(body)}</pre>`).join('') || '<p>Nothing has arrived yet.</p>'
  }</html>`;
