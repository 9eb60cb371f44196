// Threads that count: whoever never ends a step is given up, and stands in nobody else's way.
import type { Task } from './task';
import { Threads } from './threads';

/** A thread that says what it was asked, at once; of site 1 it never comes to an end. */
const ENTRY = new URL(
  `data:text/javascript,${encodeURIComponent(`
  import { parentPort } from 'node:worker_threads';
  parentPort.postMessage({ isAlive: true });
  setInterval(() => parentPort.postMessage({ isAlive: true }), 5);
  parentPort.on('message', ({ id, task }) => {
    if (task?.site === 1) for (;;);
    parentPort.postMessage({ id, part: task?.site, isLast: true });
  });
`)}`,
);

const ask = (threads: Threads, site: number): Promise<unknown> =>
  new Promise((resolve, reject) => {
    const task: Task = { kind: 'warm', site };
    threads.ask(task, { onPart: (part, isLast) => isLast && resolve(part), onFailure: reject });
  });

test('a step that does not end is given up with words, those beside it are answered, and the next question gets a new thread', async () => {
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const threads = new Threads(ENTRY, { threads: 2, megabytes: 64, silentMs: 4_000, lookMs: 20 });
  try {
    // The second one is on the same thread, behind it; the third on the other.
    const [never, behind, beside] = await Promise.allSettled([ask(threads, 1), ask(threads, 3), ask(threads, 2)]);
    expect(beside).toEqual({ status: 'fulfilled', value: 2 });
    for (const one of [never, behind])
      expect(one).toMatchObject({ status: 'rejected', reason: { message: expect.stringContaining('was given up') as string } });
    expect(await ask(threads, 3)).toBe(3);
  } finally {
    await threads.end();
    jest.restoreAllMocks();
  }
});
