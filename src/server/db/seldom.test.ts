import type { Queryable } from './queryable';
import { seldom } from './seldom';

let now = 0;
beforeEach(() => {
  now = 1_000_000;
  jest.spyOn(performance, 'now').mockImplementation(() => now);
});
afterEach(() => jest.restoreAllMocks());

const database = (): Queryable => ({ query: jest.fn() });

/** A question whose answer is how often it was asked. */
function question(took: number) {
  let asked = 0;
  return {
    times: () => asked,
    ask: async () => {
      now += took;
      return ++asked;
    },
  };
}

test('an answer serves for forty times as long as it took', async () => {
  const [db, { ask }] = [database(), question(100)];
  expect(await seldom(db, 'a', ask)).toBe(1);
  now += 3999;
  expect(await seldom(db, 'a', ask)).toBe(1);
  now += 2;
  expect(await seldom(db, 'a', ask)).toBe(2);
  expect(await seldom(db, 'another', ask)).toBe(3);
  expect(await seldom(database(), 'a', ask)).toBe(4);
});

test('what takes no time is asked each time', async () => {
  const [db, { ask }] = [database(), question(99)];
  expect([await seldom(db, 'a', ask), await seldom(db, 'a', ask)]).toEqual([1, 2]);
});

test('what takes long is told as it was while it is asked anew, but nothing that is old', async () => {
  const [db, slow] = [database(), question(1000)];
  expect(await seldom(db, 'a', slow.ask)).toBe(1);
  now += 41_000;
  expect(await seldom(db, 'a', slow.ask)).toBe(1);
  expect(slow.times()).toBe(2);
  await Promise.resolve();
  expect(await seldom(db, 'a', slow.ask)).toBe(2);
  now += 3_700_000;
  expect(await seldom(db, 'a', slow.ask)).toBe(3);
});

test('several who ask at once are one question, and a failure is not kept', async () => {
  const [db, { ask, times }] = [database(), question(10)];
  expect(await Promise.all([seldom(db, 'a', ask), seldom(db, 'a', ask), seldom(db, 'a', ask)])).toEqual([1, 1, 1]);
  expect(times()).toBe(1);
  await expect(seldom(db, 'b', () => Promise.reject(new Error('away')))).rejects.toThrow('away');
  expect(await seldom(db, 'b', ask)).toBe(2);
});

test('however little it took, it may be as old as is said', async () => {
  const [db, { ask }] = [database(), question(0)];
  await seldom(db, 'a', ask, { freshMs: 5000 });
  now += 4000;
  expect(await seldom(db, 'a', ask, { freshMs: 5000 })).toBe(1);
  now += 2000;
  expect(await seldom(db, 'a', ask, { freshMs: 5000 })).toBe(2);
});
