import { sharedPromise } from './sharedPromise';

test('several who ask are answered by one question, and a failure is forgotten', async () => {
  const kept = new Map<string, Promise<number>>();
  let asked = 0;
  const ask = (fails: boolean) => (): Promise<number> => (fails ? Promise.reject(new Error(`${++asked}`)) : Promise.resolve(++asked));
  const first = sharedPromise(kept, 'a', ask(true));
  await expect(Promise.all([first, sharedPromise(kept, 'a', ask(false))])).rejects.toThrow('1');
  expect(await Promise.all([sharedPromise(kept, 'a', ask(false)), sharedPromise(kept, 'a', ask(false))])).toEqual([2, 2]);
  expect(await sharedPromise(kept, 'b', ask(false))).toBe(3);
});

test('a failure takes away only itself', async () => {
  const kept = new Map<string, Promise<number>>();
  let fail = (_cause: Error): void => undefined;
  const failing = sharedPromise(kept, 'a', () => new Promise((_resolve, reject) => (fail = reject)));
  kept.clear();
  const next = sharedPromise(kept, 'a', () => Promise.resolve(7));
  fail(new Error('late'));
  await expect(failing).rejects.toThrow('late');
  expect(kept.get('a')).toBe(next);
});
