import fc from 'fast-check';
import type { PacingRecord } from '@/core/pacing/pacing';
import { emptyPacing } from '@/core/pacing/pacing';
import { mergePacing } from './merge';

const of = fc.record(
  { lastAt: fc.nat(1000), shown: fc.nat(9), dismissed: fc.nat(9), converted: fc.nat(9) },
  { requiredKeys: ['shown', 'dismissed', 'converted'] },
);
const record = fc.record(
  { campaigns: fc.dictionary(fc.constantFrom('a', 'b', 'c'), of), lastAt: fc.nat(1000) },
  { requiredKeys: ['campaigns'] },
);
const ours = (given: { campaigns: object }): PacingRecord => ({ ...emptyPacing(0), ...(JSON.parse(JSON.stringify(given)) as object) });

test('of what both remember the higher counts, whoever is asked first and however often', () => {
  fc.assert(
    fc.property(record, record, (mine, theirs) => {
      const one = ours(mine);
      mergePacing(one, theirs);
      const other = ours(theirs);
      mergePacing(other, mine);
      expect(one.lastAt).toBe(other.lastAt);
      expect(one.campaigns).toEqual(other.campaigns);
      const again = ours(one);
      mergePacing(again, theirs);
      expect(again).toEqual(ours(one));
    }),
  );
});

test('what only the collector remembers is remembered here, and what only this browser does stays', () => {
  const record = ours({ campaigns: { a: { shown: 2, dismissed: 1, converted: 0, lastAt: 50 } } });
  mergePacing(record, { campaigns: { b: { shown: 1, dismissed: 0, converted: 1, lastAt: 70 } }, lastAt: 70 });
  expect(record).toMatchObject({
    lastAt: 70,
    campaigns: { a: { shown: 2, dismissed: 1, lastAt: 50 }, b: { shown: 1, converted: 1, lastAt: 70 } },
  });
});
