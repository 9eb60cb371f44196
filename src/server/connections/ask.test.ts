import type { AddressInfo } from 'node:net';
import type { ServerResponse } from 'node:http';
import { createServer } from 'node:http';
import { z } from 'zod';
import type { AskOutcome } from './ask';
import { ask } from './ask';

const answers: Record<string, (reply: ServerResponse) => void> = {
  '/good': (reply) => void reply.end('{"celsius":3}'),
  '/other': (reply) => void reply.end('{"celsius":"warm"}'),
  '/text': (reply) => void reply.end('no json'),
  '/error': (reply) => void reply.writeHead(500).end('{}'),
  '/slow': () => undefined,
};
const server = createServer((request, reply) => answers[request.url ?? '']?.(reply));
let base = '';
beforeAll(async () => {
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.closeAllConnections());
afterAll(() => void server.close());

const askAt = async (url: string): Promise<{ answer: unknown; outcome: AskOutcome[] }> => {
  const outcome: AskOutcome[] = [];
  const answer = await ask(new URL(url), z.strictObject({ celsius: z.number() }), {
    // What does answer has all the time that a busy machine takes.
    timeoutMs: url.endsWith('/slow') ? 150 : 30_000,
    allowPrivate: true,
    onAsked: (one) => void outcome.push(one.outcome),
  });
  return { answer, outcome };
};

test.each([
  ['/good', { celsius: 3 }, 'answered'],
  ['/other', undefined, 'unreadable'],
  ['/text', undefined, 'unreadable'],
  ['/error', undefined, 'refused'],
  ['/slow', undefined, 'slow'],
])('%s gives %j: %s', async (path, answer, outcome) => {
  expect(await askAt(base + path)).toEqual({ answer, outcome: [outcome] });
});

test('a service that is not there is away', async () => {
  expect(await askAt('http://127.0.0.1:1/none')).toEqual({ answer: undefined, outcome: ['away'] });
});
