import { createSite } from '../db/sites';
import { one } from '../db/queryable';
import type { FreshDatabase } from '../testing/freshDatabase';
import { freshDatabase } from '../testing/freshDatabase';
import { Dealing, VisitorNumbers } from './visitorNumbers';

let database: FreshDatabase;
let siteId: number;
let clock = 0;
beforeEach(async () => {
  database ??= await freshDatabase();
  siteId = (await createSite(database.pool, { key: `sitekey${clock++}abc`, name: 'Site', addresses: [] })).id;
});
afterAll(() => database.drop());

const numbers = (now: () => number = () => clock) => new VisitorNumbers(database.pool, now);
const dealtInAll = async () =>
  (await one<{ visitors: number }>(database.pool, `select visitors from site where id = $1`, [siteId])).visitors;
const upTo = (last: number) => Array.from({ length: last }, (_, index) => index + 1);

test('whoever deals at once never deals a number twice, and none is missing', async () => {
  const dealers = [numbers(), numbers(), numbers()];
  const dealt = (
    await Promise.all(upTo(300).map((each) => dealers[each % 3]?.take(siteId, 1 + (each % 4)) ?? Promise.reject(new Error('nobody'))))
  ).flat();
  expect(new Set(dealt).size).toBe(dealt.length);
  expect(dealt).toHaveLength(upTo(300).reduce((sum, each) => sum + 1 + (each % 4), 0));
  expect(Math.max(...dealt)).toBeLessThanOrEqual(await dealtInAll());
});

test('a quiet site is dealt what it needs, and a busy one asks the seldomer', async () => {
  let now = 0;
  const quiet = numbers(() => now);
  for (const each of upTo(20)) {
    now += 60_000;
    expect(await quiet.take(siteId, 1)).toEqual([each]);
    expect(await dealtInAll()).toBe(each);
  }
  const asked = jest.spyOn(database.pool, 'query');
  for (const each of upTo(1000)) expect(await quiet.take(siteId, 1)).toEqual([20 + each]);
  expect(asked.mock.calls.length).toBeLessThan(20);
  asked.mockRestore();
  expect(await dealtInAll()).toBeLessThan(1020 + 256);
});

test('what came to nothing is dealt again', async () => {
  const dealer = numbers();
  const dealing = await Dealing.begin(dealer, new Map([[siteId, 5]]));
  expect(dealing.take(siteId, 3)).toEqual([1, 2, 3]);
  expect(dealing.take(siteId, 1)).toEqual([4]);
  dealing.end({ failed: true });
  dealing.end({ failed: true });
  expect(await dealer.take(siteId, 5)).toEqual([1, 2, 3, 4, 5]);
  expect(await dealtInAll()).toBe(5);
});

test('what was reserved and not needed is dealt again, and nobody gets more than was reserved', async () => {
  const dealer = numbers();
  const dealing = await Dealing.begin(dealer, new Map([[siteId, 3]]));
  expect(dealing.take(siteId, 1)).toEqual([1]);
  expect(() => dealing.take(siteId, 3)).toThrow(RangeError);
  dealing.end({ failed: false });
  expect(await dealer.take(siteId, 1)).toEqual([2]);
});
