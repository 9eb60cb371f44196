import fc from 'fast-check';
import { Newest, newest } from './rehearsed';

test('the newest of what is given bit by bit are those of all of it', () => {
  fc.assert(
    fc.property(fc.array(fc.nat({ max: 40 }), { maxLength: 300 }), fc.integer({ min: 1, max: 9 }), (instants, count) => {
      const all = instants.map((at, nth) => ({ at, nth }));
      const some = new Newest<(typeof all)[0]>(count);
      for (const one of all) some.take(one);
      expect(some.list()).toEqual(newest(all, count));
      expect(some.list()).toEqual([...all].sort((a, b) => b.at - a.at || a.nth - b.nth).slice(0, count));
    }),
    { numRuns: 500 },
  );
});
