import fc from 'fast-check';
import { FairQueue } from './queue';

const request = (from: string, items: number, name = '') => ({ from, name, entries: Array<number>(items).fill(0) });

test('every sender has a turn: one who sends forty requests does not keep others waiting', () => {
  const queue = new FairQueue<ReturnType<typeof request>>({ most: 20_000, mostOfOne: 10_000 });
  for (let nth = 0; nth < 20; nth++) expect(queue.put(request('flood', 500))).toBe(true);
  queue.put(request('visitor', 3));
  expect(queue.take(1000).map(({ from }) => from)).toEqual(['flood', 'visitor']);
  expect(queue.take(1000).map(({ from }) => from)).toEqual(['flood', 'flood']);
});

test('one sender may have so much waiting and no more, all together so much and no more', () => {
  const queue = new FairQueue<ReturnType<typeof request>>({ most: 10, mostOfOne: 6 });
  expect([request('a', 6), request('a', 1), request('b', 4), request('c', 1)].map((one) => queue.put(one))).toEqual([
    true,
    false,
    true,
    false,
  ]);
  queue.take(100);
  // However large, alone it is taken: the database says what is wrong with it.
  expect(queue.put(request('a', 500))).toBe(true);
});

test('nothing is lost or doubled, and each sender’s requests stay in order', () => {
  const requests = fc.array(fc.record({ from: fc.constantFrom('a', 'b', 'c'), items: fc.integer({ min: 0, max: 7 }) }), { maxLength: 40 });
  fc.assert(
    fc.property(requests, fc.integer({ min: 1, max: 12 }), (wanted, size) => {
      const queue = new FairQueue<ReturnType<typeof request>>({ most: 1e9, mostOfOne: 1e9 });
      const put = wanted.map(({ from, items }, nth) => request(from, items, String(nth)));
      put.forEach((one) => queue.put(one));
      const taken: typeof put = [];
      for (let group = queue.take(size); group.length > 0; group = queue.take(size)) {
        if (group.length > 1) expect(group.reduce((sum, { entries }) => sum + entries.length, 0)).toBeLessThanOrEqual(size);
        taken.push(...group);
      }
      expect(queue.items).toBe(0);
      expect(taken).toHaveLength(put.length);
      for (const from of ['a', 'b', 'c']) expect(taken.filter((one) => one.from === from)).toEqual(put.filter((one) => one.from === from));
    }),
  );
});
