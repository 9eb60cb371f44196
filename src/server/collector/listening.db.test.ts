// Whoever listens to conversations that are not there, or from one address to very many.
import { connect } from 'node:net';
import Fastify from 'fastify';
import { Directory } from '../db/directory';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest, parts } from '../testing/collectorUnderTest';
import { eventually } from '../testing/eventually';
import { newUuid } from '../testing/items';
import { createCollector } from './server';
import { createTalkHub, MOST_OF_ONE_ADDRESS, Talks } from './talk';

let tested: CollectorUnderTest;
beforeEach(async () => {
  tested = await collectorUnderTest();
});
afterEach(() => tested.end());

describe('whoever listens to what is not there', () => {
  const listening = { siteId: 0, browser: newUuid(), after: 0 };
  /** A stream of its own to a collector's inner side; how it ended, by then. */
  async function streams(
    talks: Talks,
    from: readonly string[],
  ): Promise<{ answers: number[]; open: () => number; end: () => Promise<void> }> {
    const asked = Fastify({ forceCloseConnections: true });
    const open = new Set<object>();
    asked.get<{ Querystring: { from: string } }>('/', (request, reply) => {
      open.add(reply.raw);
      reply.raw.on('close', () => open.delete(reply.raw));
      if (!talks.stream(reply, { ...listening, siteId: tested.site.id, thread: newUuid() }, request.query.from))
        void reply.code(503).send();
    });
    const url = await asked.listen({ port: 0, host: '127.0.0.1' });
    const responses = await Promise.all(from.map((address) => fetch(`${url}?from=${address}`)));
    for (const response of responses) void response.text().catch(() => undefined);
    return { answers: responses.map(({ status }) => status), open: () => open.size, end: () => asked.close() };
  }
  const talksOf = (heartMs: number): Talks => {
    const directory = new Directory(tested.database.pool, () => tested.database.pool);
    return new Talks(directory, createTalkHub(directory, { isSure: () => Promise.resolve(true), onFailure: () => undefined }), { heartMs });
  };

  test('is let go when nothing was heard', async () => {
    const talks = talksOf(50);
    const { answers, open, end } = await streams(talks, ['a', 'b', 'c']);
    expect(answers).toEqual([200, 200, 200]);
    await eventually(() => open() === 0);
    await end();
  });

  test('takes no place from others: one address has so many streams and no more, until it lets some go', async () => {
    const talks = talksOf(60_000);
    const many = Array.from({ length: MOST_OF_ONE_ADDRESS + 5 }, () => 'a');
    const { answers, open, end } = await streams(talks, [...many, 'b']);
    expect(answers.filter((status) => status === 503)).toHaveLength(5);
    expect(answers.at(-1)).toBe(200);
    await eventually(() => open() === MOST_OF_ONE_ADDRESS + 1);
    talks.end();
    await eventually(() => open() === 0);
    await end();
    const again = await streams(talksOf(50), ['a']);
    expect(again.answers).toEqual([200]);
    await again.end();
  });
});

test('what still comes over a connection while the collector ends is answered in our own words', async () => {
  const server = await createCollector({ pool: tested.database.pool, parts, perMinute: 100_000 });
  const url = new URL(await server.listen({ port: 0, host: '127.0.0.1' }));
  // Headers have been read then: the connection is not idle.
  const isBegun = new Promise((resolve) => server.server.once('request', resolve));
  const socket = connect(Number(url.port), url.hostname);
  let heard = '';
  socket.setEncoding('utf8').on('data', (text: string) => (heard += text));
  // A request is under way when it is told to end; the next one comes right behind it.
  const half = '{"key":';
  socket.write(`POST /c HTTP/1.1\r\nhost: x\r\ncontent-type: application/json\r\ncontent-length: 20\r\n\r\n${half}`);
  await isBegun;
  const closed = server.close();
  socket.write(`${'x'.repeat(20 - half.length)}GET /nowhere HTTP/1.1\r\nhost: x\r\nconnection: close\r\n\r\n`);
  await eventually(() => heard.includes('route.unknown') || heard.includes('Service Unavailable'));
  expect(heard).toContain('Nothing is at /nowhere');
  socket.destroy();
  await closed;
});
