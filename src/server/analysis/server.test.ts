import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { AnalysisAway, analyse } from './analyse';
import { frameOf, framesIn } from './frames';
import { createAnalysisServer } from './server';
import type { Task } from './task';

const task: Task = { kind: 'warm', site: 1 };
let server: Server | undefined;
const before = { ...process.env };
function stop(): void {
  server?.close();
  server?.closeAllConnections();
}
afterEach(() => {
  stop();
  process.env = { ...before };
});

type Threads = Parameters<typeof createAnalysisServer>[0];

async function start(ask: Threads['ask'], token?: string): Promise<string> {
  stop();
  server = createAnalysisServer({ ask }, { token });
  await new Promise<void>((resolve) => server?.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  process.env['CRINDLE_ANALYSIS_URL'] = url;
  return url;
}

test('what is known on the way and the last word arrive, bytes as bytes', async () => {
  const asked: Task[] = [];
  await start((given, { onPart }) => {
    asked.push(given);
    onPart({ so: 'far' }, false);
    setImmediate(() => onPart({ ready: true, bytes: Uint8Array.of(1, 2, 3) }, true));
    return () => undefined;
  });
  const parts: unknown[] = [];
  expect(await analyse(task, { onPart: (part) => parts.push(part) })).toEqual({ ready: true, bytes: Uint8Array.of(1, 2, 3) });
  expect([parts, asked]).toEqual([[{ so: 'far' }], [task]]);
});

test('why there is no answer is told, and being away is told apart from failing', async () => {
  await start((_task, { onFailure }) => {
    onFailure(new Error('no such site'));
    return () => undefined;
  });
  await expect(analyse(task)).rejects.toThrow('no such site');
  await start((_task, { onPart }) => {
    onPart('begun', false);
    setImmediate(() => server?.closeAllConnections());
    return () => undefined;
  });
  await expect(analyse(task)).rejects.toThrow(AnalysisAway);
  process.env['CRINDLE_ANALYSIS_URL'] = 'http://127.0.0.1:9';
  await expect(analyse(task)).rejects.toThrow('What counts and rehearses is away');
});

test('whoever stops waiting ends the work', async () => {
  let isBegun = (): void => undefined;
  const begun = new Promise<void>((resolve) => (isBegun = resolve));
  const ended = new Promise<void>((resolve) => {
    void start(() => {
      isBegun();
      return resolve;
    }).then(() => {
      const controller = new AbortController();
      const answer = analyse(task, { signal: controller.signal });
      void begun.then(() => controller.abort());
      return expect(answer).rejects.toThrow('Nobody waits for it any more');
    });
  });
  await ended;
  await expect(analyse(task, { signal: AbortSignal.abort() })).rejects.toThrow('Nobody waits for it any more');
});

test('it answers only to whoever knows the token, and only to tasks', async () => {
  const url = await start(() => () => undefined, 'secret');
  const ask = (headers: Record<string, string>, body = JSON.stringify(task)) =>
    fetch(`${url}/ask`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/json', authorization: 'Bearer secret', ...headers },
    });
  expect((await ask({ authorization: 'Bearer other' })).status).toBe(403);
  expect((await ask({ 'content-type': 'text/plain' })).status).toBe(415);
  expect((await ask({}, 'no json')).status).toBe(400);
  expect((await ask({}, '{"kind":"warm"}')).status).toBe(400);
  expect((await ask({}, 'x'.repeat(4_000_001))).status).toBe(413);
  expect((await fetch(`${url}/elsewhere`)).status).toBe(404);
  expect(await (await fetch(`${url}/health`)).json()).toEqual({ ok: true });
  process.env['CRINDLE_ANALYSIS_TOKEN'] = 'wrong';
  await expect(analyse(task)).rejects.toThrow('403');
});

test('frames are found however a stream was cut, and half of one is an error', async () => {
  const frames = [
    { kind: 'alive' },
    { kind: 'part', value: Uint8Array.from({ length: 300 }, (_, n) => n) },
    { kind: 'last', value: null },
  ] as const;
  const bytes = Buffer.concat(frames.map(frameOf));
  const cut = async function* (size: number, upTo = bytes.length) {
    for (let from = 0; from < upTo; from += size) yield bytes.subarray(from, Math.min(upTo, from + size));
  };
  const all = async (stream: AsyncIterable<Uint8Array>): Promise<unknown[]> => {
    const met: unknown[] = [];
    for await (const frame of framesIn(stream)) met.push(frame);
    return met;
  };
  for (const size of [1, 3, 7, 100, 10_000]) expect(await all(cut(size))).toEqual(frames);
  await expect(all(cut(10, bytes.length - 1))).rejects.toThrow('ended within a frame');
  await expect(
    all(
      (async function* () {
        yield Buffer.from([255, 255, 255, 255]);
      })(),
    ),
  ).rejects.toThrow('A frame of');
});
