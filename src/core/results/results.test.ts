import fc from 'fast-check';
import { createDice } from '../random/dice';
import { attribute } from './attribution';
import { holm } from './holm';
import { daysToTell, detectableDifference, pointsIn, priceOfLooking, sampleSize } from './planning';
import { differenceInterval, rateInterval } from './rates';
import { differenceSequence, logEvidenceAgainst, sameRateChance } from './sequence';
import { shareCheck } from './shares';

describe('Wilson’s interval for a rate', () => {
  // Newcombe, "Two-sided confidence intervals for the single proportion", Statistics in Medicine 17 (1998), table I, method 3.
  test.each([
    { conversions: 81, of: 263, low: 0.2553, high: 0.3662 },
    { conversions: 15, of: 148, low: 0.0624, high: 0.1605 },
    { conversions: 0, of: 20, low: 0, high: 0.1611 },
    { conversions: 1, of: 29, low: 0.0061, high: 0.1718 },
  ])('$conversions of $of', ({ conversions, of, low, high }) => {
    const interval = rateInterval({ conversions, of });
    expect(interval?.low).toBeCloseTo(low, 4);
    expect(interval?.high).toBeCloseTo(high, 4);
  });

  test('nothing shown has no interval', () => {
    expect(rateInterval({ conversions: 0, of: 0 })).toBeUndefined();
  });
});

describe('Newcombe’s interval for a difference', () => {
  // Newcombe, "Interval estimation for the difference between independent proportions", Statistics in Medicine 17 (1998), table II, method 10.
  test.each([
    { a: [56, 70], b: [48, 80], low: 0.0524, high: 0.3339 },
    { a: [9, 10], b: [3, 10], low: 0.1705, high: 0.809 },
    { a: [5, 56], b: [0, 29], low: -0.0381, high: 0.1926 },
    { a: [0, 10], b: [0, 10], low: -0.2775, high: 0.2775 },
    { a: [10, 10], b: [0, 20], low: 0.6791, high: 1 },
  ] as const)('$a against $b', ({ a, b, low, high }) => {
    const interval = differenceInterval({ conversions: a[0], of: a[1] }, { conversions: b[0], of: b[1] });
    expect(interval?.low).toBeCloseTo(low, 4);
    expect(interval?.high).toBeCloseTo(high, 4);
  });
});

describe('planning', () => {
  // Fleiss's formula worked by hand: z = 1.959964 and 0.841621, pooled rate 0.125 and 0.55.
  test.each([
    { first: 0.1, second: 0.15, n: 686 },
    { first: 0.6, second: 0.5, n: 388 },
  ])('$first against $second takes $n in each group', ({ first, second, n }) => {
    expect(sampleSize(first, second)).toBe(n);
    expect(sampleSize(second, first)).toBe(n);
  });

  test('what a group can tell is what it is large enough for', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.8, noNaN: true }), fc.integer({ min: 200, max: 50_000 }), (rate, size) => {
        const difference = detectableDifference(rate, size);
        if (difference === undefined) return;
        expect(sampleSize(rate, rate + difference)).toBeLessThanOrEqual(size);
        expect(sampleSize(rate, rate + difference * 0.98) ?? Infinity).toBeGreaterThan(size * 0.98);
      }),
    );
    expect(sampleSize(0.2, 0.2)).toBeUndefined();
    expect(detectableDifference(0.5, 3)).toBeUndefined();
  });

  test('looking always makes the span 1.55 times as wide at the planned size', () => {
    // By hand: -2 ln 0.05 + ln(-2 ln 0.05 + 1) = 7.936; 2 * 8.936 / 7.936 * ln(sqrt(8.936) / 0.05) = 9.212; sqrt(9.212) / 1.95996 = 1.5486.
    expect(Math.sqrt(priceOfLooking())).toBeCloseTo(1.5486, 3);
    expect(priceOfLooking(0.01)).toBeGreaterThan(1);
  });

  test('the smaller the group that sees nothing, the longer it takes; with nothing to compare there is no number', () => {
    const given = { perDay: 500, rate: 0.04, points: 0.01 };
    const fifth = daysToTell({ variants: [0.8], nothing: 0.2 }, given) ?? 0;
    const tenth = daysToTell({ variants: [0.9], nothing: 0.1 }, given) ?? 0;
    expect(tenth / fifth).toBeGreaterThan(1.6);
    expect(tenth / fifth).toBeLessThan(1.9);
    // 0.2 of 500 a day have to come to the first group's number times 2.398.
    expect(fifth).toBeCloseTo(((sampleSize(0.04, 0.05, { ratio: 4 }) ?? 0) * 2.398) / 100, 0);
    expect(daysToTell({ variants: [1], nothing: 0 }, given)).toBeUndefined();
    // What can be told within some days is what takes no longer.
    const dealt = { variants: [0.8], nothing: 0.2 };
    const least = pointsIn(dealt, { perDay: 500, rate: 0.04, days: 30 }) ?? 0;
    expect(daysToTell(dealt, { ...given, points: least })).toBeLessThanOrEqual(30);
    expect(daysToTell(dealt, { ...given, points: least * 0.97 })).toBeGreaterThan(30);
    expect(pointsIn(dealt, { perDay: 500, rate: 0.04, days: 90 })).toBeLessThan(least);
    for (const perDay of [0, 0.01]) expect(pointsIn(dealt, { perDay, rate: 0.04, days: 30 })).toBeUndefined();
    // Halves of who are shown something tell two variants apart; a third variant makes it slower by more than its share.
    const two = daysToTell({ variants: [0.5, 0.5], nothing: 0 }, given) ?? 0;
    const three = daysToTell({ variants: [0.34, 0.33, 0.33], nothing: 0 }, given) ?? 0;
    expect(three / two).toBeGreaterThan(1.5);
  });
});

describe('the check of shares', () => {
  test('counts as meant are likely, counts far off are not', () => {
    // 821,588 and 815,482 where halves were meant: a mismatch with a chance of about 1.8e-6.
    const far = shareCheck([
      { count: 821_588, weight: 1 },
      { count: 815_482, weight: 1 },
    ]);
    expect(far?.chance).toBeLessThan(3e-6);
    expect(
      shareCheck([
        { count: 500, weight: 1 },
        { count: 500, weight: 1 },
      ])?.chance,
    ).toBe(1);
  });

  test('what was never to be dealt out, or nothing at all, gives no answer', () => {
    expect(
      shareCheck([
        { count: 5, weight: 0 },
        { count: 9, weight: 1 },
        { count: 9, weight: 1 },
      ]),
    ).toBeUndefined();
    expect(
      shareCheck([
        { count: 0, weight: 1 },
        { count: 0, weight: 1 },
      ]),
    ).toBeUndefined();
  });
});

test('Holm’s adjusted chances never fall below the ones before, nor rise above 1', () => {
  expect(holm([0.01, 0.04, 0.03, 0.005])).toEqual([0.03, 0.06, 0.06, 0.02]);
  expect(holm([0.6, 0.9])).toEqual([1, 1]);
  expect(holm([])).toEqual([]);
});

describe('the confidence sequence', () => {
  const tally = (conversions: number, of: number) => ({ conversions, of });

  test('says nothing while nothing is known, and closes in on the difference', () => {
    expect(differenceSequence(tally(0, 0), tally(0, 0))).toEqual({ low: -1, high: 1 });
    const late = differenceSequence(tally(12_000, 100_000), tally(10_000, 100_000));
    expect(late.low).toBeGreaterThan(0.012);
    expect(late.high).toBeLessThan(0.028);
  });

  test('its ends are where the evidence reaches the limit', () => {
    const [first, second] = [tally(60, 400), tally(40, 400)];
    const { low, high } = differenceSequence(first, second);
    for (const end of [low, high]) expect(logEvidenceAgainst(end, first, second)).toBeCloseTo(Math.log(20), 4);
    expect(sameRateChance(first, second)).toBeGreaterThan(0.05);
    expect(sameRateChance(tally(60, 400), tally(10, 400))).toBeLessThan(0.001);
  });

  test('it is wider than an interval for one look, and turns with its groups', () => {
    const [first, second] = [tally(60, 400), tally(40, 400)];
    const [sequence, once] = [differenceSequence(first, second), differenceInterval(first, second)];
    expect(sequence.low).toBeLessThan(once?.low ?? -1);
    expect(sequence.high).toBeGreaterThan(once?.high ?? 1);
    const turned = differenceSequence(second, first);
    expect(turned.low).toBeCloseTo(-sequence.high, 6);
    expect(turned.high).toBeCloseTo(-sequence.low, 6);
  });

  test.each([
    { first: 0.05, second: 0.05 },
    { first: 0.3, second: 0.24 },
    { first: 0.01, second: 0.02 },
  ])(
    'with rates $first and $second and 100 looks, at most 5 % of 2,000 runs ever miss the difference',
    ({ first, second }) => {
      const dice = createDice(`sequence ${first} ${second}`).next;
      const [runs, looks, between] = [2000, 100, 20];
      let missed = 0;
      for (let run = 0; run < runs; run++) {
        let [a, b] = [0, 0];
        for (let look = 1; look <= looks; look++) {
          for (let one = 0; one < between; one++) {
            if (dice() < first) a++;
            if (dice() < second) b++;
          }
          if (logEvidenceAgainst(first - second, tally(a, look * between), tally(b, look * between)) > Math.log(20)) {
            missed++;
            break;
          }
        }
      }
      expect(missed / runs).toBeLessThanOrEqual(0.05);
    },
    120_000,
  );
});

test('looking a hundred times at an interval made for one look would miss far more often', () => {
  const dice = createDice('peeking').next;
  let missed = 0;
  for (let run = 0; run < 400; run++) {
    let [a, b] = [0, 0];
    for (let look = 1; look <= 100; look++) {
      for (let one = 0; one < 20; one++) {
        if (dice() < 0.2) a++;
        if (dice() < 0.2) b++;
      }
      const interval = differenceInterval({ conversions: a, of: look * 20 }, { conversions: b, of: look * 20 });
      if (interval && (interval.low > 0 || interval.high < 0)) {
        missed++;
        break;
      }
    }
  }
  expect(missed / 400).toBeGreaterThan(0.15);
});

describe('attribution', () => {
  const DAY = 86_400_000;
  const showings = [
    { id: 's1', at: 0 },
    { id: 's2', at: 2 * DAY },
  ];
  test.each([
    { at: DAY, days: 7, to: 'last' as const, showing: 's1' },
    { at: 3 * DAY, days: 7, to: 'last' as const, showing: 's2' },
    { at: 3 * DAY, days: 7, to: 'first' as const, showing: 's1' },
    { at: 3 * DAY, days: 2, to: 'first' as const, showing: 's2' },
    { at: 2 * DAY, days: 7, to: 'last' as const, showing: 's2' },
    { at: -1, days: 7, to: 'last' as const, showing: undefined },
    { at: 9 * DAY, days: 7, to: 'last' as const, showing: undefined },
  ])('a conversion at $at is owed to $showing ($to within $days days)', ({ at, days, to, showing }) => {
    expect(attribute(showings, [{ id: 'c', at }], { days, to })[0]?.showing).toBe(showing);
  });
});
