import fc from 'fast-check';
import { partsOf } from './DealBar';

const flow = { start: 'a', messages: [] } as never;

test('shares always make a hundred with those who see nothing', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 1, max: 1000 }), { minLength: 2, maxLength: 6 }),
      fc.integer({ min: 0, max: 90 }),
      (weights, nothing) => {
        const parts = partsOf({
          flow,
          holdout: nothing / 100,
          variants: weights.map((weight, nth) => ({ name: `v${nth}`, start: 'a', weight })),
        });
        expect(parts.reduce((sum, { share }) => sum + share, 0) + nothing).toBe(100);
      },
    ),
  );
  expect(partsOf({ flow })).toEqual([{ name: 'a', start: 'a', share: 100 }]);
});
