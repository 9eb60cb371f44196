import { cached } from './cached';

test('a burst asks once, and again when the time is over', async () => {
  let [asked, clock] = [0, 5000];
  const ask = cached({ ms: () => 1000, load: async (key) => `${key}${++asked}`, now: () => clock });
  expect(await Promise.all([ask('a'), ask('a'), ask('b')])).toEqual(['a1', 'a1', 'b2']);
  clock = 5999;
  expect(await ask('a')).toBe('a1');
  clock = 6001;
  expect(await ask('a')).toBe('a3');
});

test('a failure is not cached', async () => {
  let fails = true;
  const ask = cached({
    ms: () => 1000,
    load: async () => {
      if (fails) throw new Error('away');
      return 'back';
    },
    now: () => 0,
  });
  await expect(ask('a')).rejects.toThrow('away');
  fails = false;
  expect(await ask('a')).toBe('back');
});

test('it forgets rather than grows without end', async () => {
  let asked = 0;
  const ask = cached({ ms: () => 1000, load: async () => ++asked, now: () => 0, most: 2 });
  for (const key of ['a', 'b', 'c', 'a']) await ask(key);
  expect(asked).toBe(4);
});

test('what was asked before something is forgotten is not kept for whoever asks after', async () => {
  const answers: ((value: string) => void)[] = [];
  const ask = cached({ ms: () => 60_000, load: () => new Promise<string>((resolve) => answers.push(resolve)), now: () => 0 });
  const before = ask('a');
  ask.forget('a');
  const after = ask('a');
  answers[0]?.('old');
  answers[1]?.('new');
  expect([await before, await after, await ask('a')]).toEqual(['old', 'new', 'new']);
  ask.forget();
  void ask('a');
  expect(answers).toHaveLength(3);
});
