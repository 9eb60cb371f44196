import { createDice } from '../random/dice';
import type { Tally } from './rates';
import { DAY_MS } from '../time/day';
import type { Exposure, ReportOptions } from './report';
import { daysToTell } from './planning';
import { courseOf, stillNeeded } from './course';
import { differenceInterval } from './rates';
import { dayIn, NOTHING, reportOn, rowsBy, sharesChance, SHOWN } from './report';
import { differenceSequence } from './sequence';
import { differenceBy, differenceSpan, isClear, valueDifferenceBy } from './span';

const START = Date.UTC(2026, 8, 1);
const OPTIONS: ReportOptions = { days: 3, isOwnGoal: false, now: START + 60 * DAY_MS };

let numbered = 0;
const visitor = (more: Partial<Exposure> = {}): Exposure => ({
  visitor: ++numbered,
  met: START,
  dealt: SHOWN,
  shown: more.dealt !== NOTHING,
  success: null,
  value: null,
  device: 'desktop',
  channel: 'direct',
  page: '/',
  country: 'AT',
  known: false,
  returning: false,
  engaged: false,
  sent: false,
  dismissed: null,
  release: 1,
  ...more,
});
const many = (count: number, successes: number, more: Partial<Exposure> = {}): Exposure[] =>
  Array.from({ length: count }, (_, index) => visitor({ ...more, ...(index < successes ? { success: START + 1000 } : {}) }));

test('a span is what the formula says, by hand', () => {
  // p1 = 300/5000, p0 = 200/5000; N = 10000, planned 10000, alpha 0.05.
  // V = .06*.94/5000 + .04*.96/5000 = 1.896e-5; rho2 = (-2 ln .05 + ln(-2 ln .05 + 1)) / 10000 = (5.99146 + 1.94469)/10000 = 7.93615e-4
  // N rho2 = 7.93615; half = sqrt(V * 2 * 8.93615/7.93615 * ln(sqrt(8.93615)/.05)) = sqrt(1.896e-5 * 2.252012 * 4.090793) = 0.013216
  const { low, high } = differenceSpan({ conversions: 300, of: 5000 }, { conversions: 200, of: 5000 });
  expect((high - low) / 2).toBeCloseTo(0.013216, 5);
  expect((high + low) / 2).toBeCloseTo(0.02, 10);
});

test('before there are enough the exact sequence is taken: under 100 together, or under 5 of either kind in a group', () => {
  for (const [first, second] of [
    [
      { conversions: 20, of: 49 },
      { conversions: 20, of: 50 },
    ],
    [
      { conversions: 4, of: 500 },
      { conversions: 50, of: 500 },
    ],
    [
      { conversions: 496, of: 500 },
      { conversions: 250, of: 500 },
    ],
  ] as const)
    expect(differenceSpan(first, second)).toEqual(differenceSequence(first, second));
  const [first, second] = [
    { conversions: 5, of: 50 },
    { conversions: 6, of: 50 },
  ];
  expect(differenceSpan(first, second)).not.toEqual(differenceSequence(first, second));
});

test('a mean value has no span under 50 visitors in a group, and then one around the difference', () => {
  const values = (of: number, each: number) => ({ of, sum: of * each, squares: of * each * each + of });
  expect(valueDifferenceBy([[values(49, 2), values(500, 1)]], { looks: 'always' })).toBeUndefined();
  const found = valueDifferenceBy([[values(500, 2), values(500, 1)]], { looks: 'always' });
  expect(found?.difference).toBeCloseTo(1, 10);
  expect(found && (found.span.low + found.span.high) / 2).toBeCloseTo(1, 10);
});

test('where shares were changed the difference is taken within each part, by hand', () => {
  // Parts of 1,000 (30/200 against 80/800) and 2,000 (60/1000 against 50/1000): weights 1/3 and 2/3.
  // difference = 1/3 (.15 - .1) + 2/3 (.06 - .05) = .0233333
  // V = 1/9 (.15*.85/200 + .1*.9/800) + 4/9 (.06*.94/1000 + .05*.95/1000) = 1/9 * 7.5e-4 + 4/9 * 1.039e-4 = 1.2951e-4
  // N = 3000: N rho2 = 2.380845; half = sqrt(V * 2 * 3.380845/2.380845 * ln(sqrt(3.380845)/.05)) = sqrt(1.2951e-4 * 2.840037 * 3.604818) = .036413
  const tally = (conversions: number, of: number) => ({ conversions, of });
  const strata = [
    [tally(30, 200), tally(80, 800)],
    [tally(60, 1000), tally(50, 1000)],
  ] as const;
  const found = differenceBy(strata, { looks: 'always' });
  expect(found?.difference).toBeCloseTo(0.0233333, 6);
  expect(found && (found.span.high - found.span.low) / 2).toBeCloseTo(0.036413, 4);
  // Once: 1.96 times the deviation.
  const once = differenceBy(strata, { looks: 'once' });
  expect(once && (once.span.high - once.span.low) / 2).toBeCloseTo(1.959964 * Math.sqrt(1.2951e-4), 5);
  // Few of one kind altogether: nothing is known.
  const few: [Tally, Tally][] = [
    [tally(3, 10), tally(1, 3)],
    [tally(1, 900), tally(1, 900)],
  ];
  expect(differenceBy(few, { looks: 'always' })?.span).toEqual({ low: -1, high: 1 });
});

test('a part in which one group has nobody is in no difference, and counted as left out', () => {
  const splits = new Map([
    [1, {}],
    [2, { holdout: 0.5 }],
    [3, { holdout: 0.5 }],
  ]);
  const visitors = [
    ...many(300, 90),
    ...many(400, 20, { release: 2 }),
    ...many(400, 20, { release: 2, dealt: NOTHING }),
    ...many(100, 5, { release: 3 }),
    ...many(100, 5, { release: 3, dealt: NOTHING }),
  ];
  const [, row] = rowsBy(visitors, 'variant', { ...OPTIONS, splits });
  expect(row).toMatchObject({ met: 800, successes: 115, against: { difference: 0, strata: 1, leftOut: 300 } });
  // Of releases that dealt alike the visitors are together.
  const together = differenceSpan({ conversions: 25, of: 500 }, { conversions: 25, of: 500 });
  expect(row?.against?.span).toEqual([together.low, together.high]);
  expect(courseOf(visitors, { ...OPTIONS, splits }).at(-1)).toMatchObject({ difference: 0, span: [together.low, together.high] });
});

test('a period of one’s own has intervals for one look, each on its own, and says so', () => {
  const visitors = [...many(2000, 20, { dealt: NOTHING }), ...many(2000, 200, { dealt: 'A' }), ...many(2000, 20, { dealt: 'B' })];
  const { rows, looks } = reportOn(visitors, { ...OPTIONS, variants: ['A', 'B'], looks: 'once' });
  expect(looks).toBe('once');
  const newcombe = differenceInterval({ conversions: 200, of: 2000 }, { conversions: 20, of: 2000 });
  expect(rows[1]?.against).toMatchObject({ looks: 'once', alpha: 0.05, span: [newcombe?.low, newcombe?.high] });
});

test('versions stand beside those who see nothing, each compared with its part of the chance of a false alarm', () => {
  const visitors = [...many(200, 8, { dealt: NOTHING }), ...many(400, 30, { dealt: 'B' }), ...many(400, 20, { dealt: 'A' })];
  const rows = rowsBy(visitors, 'variant', { ...OPTIONS, variants: ['A', 'B'] });
  expect(rows.map(({ value, met, successes, against }) => [value, met, successes, against?.value, against?.alpha])).toEqual([
    [NOTHING, 200, 8, undefined, undefined],
    ['A', 400, 20, NOTHING, 0.025],
    ['B', 400, 30, NOTHING, 0.025],
  ]);
  const alone = differenceSpan({ conversions: 30, of: 400 }, { conversions: 8, of: 200 }, { alpha: 0.025 });
  expect(rows[2]?.against?.span).toEqual([alone.low, alone.high]);
});

test('what only the message brings about is compared between versions, never with nothing', () => {
  const visitors = [...many(100, 0, { dealt: NOTHING }), ...many(100, 10, { dealt: 'A' }), ...many(100, 20, { dealt: 'B' })];
  const options = { ...OPTIONS, isOwnGoal: true, variants: ['A', 'B'] };
  expect(rowsBy(visitors, 'variant', options).map(({ value, against }) => [value, against?.value])).toEqual([
    [NOTHING, undefined],
    ['A', undefined],
    ['B', 'A'],
  ]);
  // Within a device, too, the variants are compared with each other.
  expect(rowsBy(visitors, 'device', options)).toMatchObject([
    { value: 'desktop', variant: 'B', met: 100, successes: 20, control: { value: 'A', met: 100, successes: 10 }, against: { value: 'A' } },
  ]);
});

test('by what was so before: whoever was dealt something against whoever was dealt nothing, of the same value', () => {
  const visitors = [
    ...many(120, 10, { device: 'phone' }),
    ...many(60, 2, { device: 'phone', dealt: NOTHING }),
    ...many(50, 5, { device: 'tablet' }),
    ...many(3, 0, { device: null, dealt: NOTHING }),
  ];
  const rows = rowsBy(visitors, 'device', OPTIONS);
  expect(
    rows.map(({ value, met, control, against }) => [value, met, control?.met ?? null, against?.value ?? null, against?.alpha]),
  ).toEqual([
    ['phone', 120, 60, NOTHING, 0.05],
    ['tablet', 50, null, null, undefined],
    ['unknown', 0, 3, null, undefined],
  ]);
  expect(rows[0]?.control).toMatchObject({ value: NOTHING, successes: 2, rate: 2 / 60 });
  // Whoever met it stands in one of both.
  expect(rows.reduce((sum, { met, control }) => sum + met + (control?.met ?? 0), 0)).toBe(visitors.length);
});

test('days are those of the zone, also about a change of the clocks', () => {
  expect(dayIn('Europe/Vienna', Date.parse('2026-03-28T23:30:00Z'))).toBe('2026-03-29');
  expect(dayIn('Europe/Vienna', Date.parse('2026-10-25T22:30:00Z'))).toBe('2026-10-25');
  expect(dayIn('Pacific/Auckland', Date.parse('2026-09-26T11:30:00Z'))).toBe('2026-09-26');
  const met = [Date.parse('2026-10-24T22:30:00Z'), Date.parse('2026-10-25T22:30:00Z'), Date.parse('2026-10-25T23:30:00Z')];
  const visitors = met.map((at) => visitor({ met: at }));
  expect(rowsBy(visitors, 'day', { ...OPTIONS, zone: 'Europe/Vienna' }).map(({ value, met: count }) => [value, count])).toEqual([
    ['2026-10-25', 2],
    ['2026-10-26', 1],
  ]);
});

test('nobody, one, or nobody seeing nothing: every number is there or is said to be none', () => {
  expect(reportOn([], OPTIONS)).toMatchObject({ met: 0, unripe: 0, shares: { chance: null }, rows: [] });
  const one = reportOn([visitor({ met: OPTIONS.now - DAY_MS })], OPTIONS);
  expect(one).toMatchObject({ met: 1, unripe: 1, rows: [{ value: SHOWN, met: 1, rate: 0, against: null }] });
  expect(courseOf([visitor()], OPTIONS)).toEqual([]);
  expect(courseOf([visitor(), visitor({ dealt: NOTHING })], OPTIONS)).toMatchObject([{ day: '2026-09-01', met: 2, difference: 0 }]);
});

test('steps are of those who were dealt something; days that are not over are counted apart', () => {
  const visitors = [
    visitor({ engaged: true, sent: true, success: START }),
    visitor({ dismissed: 'button' }),
    visitor({ shown: false }),
    visitor({ dealt: NOTHING, success: START }),
    visitor({ met: OPTIONS.now - 2 * DAY_MS }),
  ];
  const { steps, dismissed, unripe } = reportOn(visitors, OPTIONS);
  expect(steps.map(({ visitors: count }) => count)).toEqual([5, 3, 1, 1, 1]);
  expect([dismissed, unripe]).toEqual([1, 1]);
});

test('a course says at each day’s end what was known by then: successes of later days are not', () => {
  const visitors = [
    ...many(100, 0, { dealt: NOTHING }),
    ...Array.from({ length: 100 }, (_, index) => visitor({ success: index < 20 ? START + 2 * DAY_MS : null })),
    visitor({ met: START + DAY_MS }),
  ];
  expect(courseOf(visitors, OPTIONS).map(({ day, met, difference }) => [day, met, difference && Math.round(difference * 1000)])).toEqual([
    ['2026-09-01', 200, 0],
    ['2026-09-02', 201, 0],
    ['2026-09-03', 201, 198],
  ]);
});

test('shares that changed from release to release are no alarm, and a group that is not recorded is', () => {
  const splits = new Map([
    [1, { holdout: 0.5 }],
    [2, { holdout: 0.1 }],
  ]);
  const fair = [
    ...many(500, 0),
    ...many(500, 0, { dealt: NOTHING }),
    ...many(900, 0, { release: 2 }),
    ...many(100, 0, { release: 2, dealt: NOTHING }),
  ];
  expect(sharesChance(fair, splits)).toBeGreaterThan(0.9);
  expect(sharesChance([...fair, ...many(300, 0)], splits)).toBeLessThan(0.001);
  expect(sharesChance(many(100, 0), new Map([[1, {}]]))).toBeNull();
});

test('what is still needed is what planning says from the start, less what has been', () => {
  const visitors = [...many(1000, 50), ...many(250, 12, { dealt: NOTHING })];
  const to = START + 10 * DAY_MS;
  const needed = stillNeeded(visitors, OPTIONS, { points: 0.02, to });
  const planned = daysToTell({ variants: [0.8], nothing: 0.2 }, { perDay: 125, rate: 12 / 250, points: 0.02 }) ?? 0;
  expect(needed).toEqual({ days: Math.ceil(planned - 10), visitors: Math.ceil((planned - 10) * 125) });
  // A larger one is told sooner, and at last nothing is needed.
  expect(stillNeeded(visitors, OPTIONS, { points: 0.5, to })).toEqual({ visitors: 0, days: 0 });
  for (const nothing of [[], many(10, 2), [...many(50, 3), ...many(50, 0, { dealt: NOTHING })]])
    expect(stillNeeded(nothing, OPTIONS, { points: 0.01, to })).toBeUndefined();
  // Versions of a form are compared with the first.
  const versions = [...many(300, 30, { dealt: 'A' }), ...many(300, 33, { dealt: 'B' })];
  expect(stillNeeded(versions, { ...OPTIONS, isOwnGoal: true, variants: ['A', 'B'] }, { points: 0.05, to })?.days).toBeGreaterThan(0);
});

describe('in simulated worlds', () => {
  const WORLDS = 200;
  const LOOKS = 60;
  const PER_DAY = 80;

  /** Sixty days of a campaign, looked at each evening: on which day anything was first called clear, and whether the true lift was ever left out. */
  function live(
    seed: string,
    { base, lift, holdout }: { base: number; lift: number; holdout: number },
  ): { clearOn: number | undefined; isLeftOut: boolean } {
    const dice = createDice(seed);
    const visitors: Exposure[] = [];
    let clearOn: number | undefined;
    let isLeftOut = false;
    for (let day = 0; day < LOOKS; day++) {
      for (let one = 0; one < PER_DAY; one++) {
        const dealt = dice.chance(holdout) ? NOTHING : dice.chance(0.5) ? 'A' : 'B';
        const met = START + day * DAY_MS;
        const success = dice.chance(base + (dealt === NOTHING ? 0 : lift)) ? met : null;
        visitors.push(visitor({ met, dealt, success, device: dice.chance(0.6) ? 'phone' : 'desktop' }));
      }
      // A table with several rows, as it is looked at.
      const rows = rowsBy(visitors, 'variant', { ...OPTIONS, variants: ['A', 'B'] });
      const compared = rows.flatMap(({ against }) => (against ? [{ low: against.span[0], high: against.span[1] }] : []));
      if (compared.some(isClear)) clearOn ??= day;
      if (compared.some(({ low, high }) => lift < low || lift > high)) isLeftOut = true;
    }
    return { clearOn, isLeftOut };
  }

  test('without an effect at most 5 of 100 ever call anything clear in sixty looks', () => {
    const alarms = Array.from({ length: WORLDS }, (_, nth) => live(`none ${nth}`, { base: 0.05, lift: 0, holdout: 0.3 })).filter(
      ({ clearOn }) => clearOn !== undefined,
    ).length;
    expect(alarms / WORLDS).toBeLessThanOrEqual(0.05);
  });

  test('with one the span covers the true lift in at least 95 of 100, at all looks together, and most come to be clear', () => {
    const worlds = Array.from({ length: WORLDS }, (_, nth) => live(`lift ${nth}`, { base: 0.05, lift: 0.05, holdout: 0.3 }));
    expect(worlds.filter(({ isLeftOut }) => isLeftOut).length / WORLDS).toBeLessThanOrEqual(0.05);
    const days = worlds.flatMap(({ clearOn }) => (clearOn === undefined ? [] : [clearOn])).sort((a, b) => a - b);
    expect(days.length / WORLDS).toBeGreaterThan(0.9);
    // The median day of clearness, written down: docs/performance.md says it, too.
    expect(days[Math.floor(days.length / 2)]).toBeGreaterThanOrEqual(15);
    expect(days[Math.floor(days.length / 2)]).toBeLessThanOrEqual(35);
  });

  /** A hundred and twenty days without an effect, in which the rate falls by half and the control group grows from a fifth to half: looked at each evening. */
  function drifting(seed: string, { isByStrata, perDay }: { isByStrata: boolean; perDay: number }): boolean {
    const dice = createDice(seed);
    const tally = () => ({ of: 0, conversions: 0 });
    const [early, late] = [[tally(), tally()] as const, [tally(), tally()] as const];
    for (let day = 0; day < 120; day++) {
      for (let one = 0; one < perDay; one++) {
        const [shown, nothing] = day < 60 ? early : late;
        const group = dice.chance(day < 60 ? 0.2 : 0.5) ? nothing : shown;
        group.of++;
        if (dice.chance(day < 60 ? 0.2 : 0.1)) group.conversions++;
      }
      const strata = day < 60 ? [early] : [early, late];
      const pooled = [0, 1].map((side) => ({
        of: strata.reduce((sum, stratum) => sum + (stratum[side]?.of ?? 0), 0),
        conversions: strata.reduce((sum, stratum) => sum + (stratum[side]?.conversions ?? 0), 0),
      })) as [Tally, Tally];
      const found = differenceBy(isByStrata ? strata : [pooled], { looks: 'always' });
      if (found && isClear(found.span)) return true;
    }
    return false;
  }

  test('shares that change while rates do make nothing clear that is not', () => {
    const ever = (isByStrata: boolean) =>
      Array.from({ length: WORLDS }, (_, nth) => drifting(`drift ${nth}`, { isByStrata, perDay: 200 })).filter(Boolean).length / WORLDS;
    expect(ever(true)).toBeLessThanOrEqual(0.05);
    // What is guarded against: all together are called clear nearly always.
    expect(ever(false)).toBeGreaterThan(0.8);
  });

  test('shares that are as they should be sound the alarm in at most 1 of 1,000', () => {
    let alarms = 0;
    for (let run = 0; run < 2000; run++) {
      const dice = createDice(`shares ${run}`);
      const visitors = Array.from({ length: 600 }, () => visitor({ dealt: dice.chance(0.2) ? NOTHING : SHOWN }));
      if ((sharesChance(visitors, new Map([[1, { holdout: 0.2 }]])) ?? 1) < 0.001) alarms++;
    }
    expect(alarms).toBeLessThanOrEqual(2);
  });
});
