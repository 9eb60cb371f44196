// Whoever listens to conversations that are not there, or from one address to very many.
import Fastify from 'fastify';
import { Directory } from '../db/directory';
import type { CollectorUnderTest } from '../testing/collectorUnderTest';
import { collectorUnderTest } from '../testing/collectorUnderTest';
import { eventually } from '../testing/eventually';
import { newUuid } from '../testing/items';
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
