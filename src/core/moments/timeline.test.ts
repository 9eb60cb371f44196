import { delayWakesAt } from './kinds/delay';
import { idleHolds, idleWakesAt } from './kinds/idle';
import { visibleHolds, visibleWakesAt } from './kinds/visible';
import { momentHolds } from './runtime';
import type { Signal } from './signal';
import { advanceTo, engagedAt, openTimeline, takeSignal } from './timeline';

const after = (signals: readonly Signal[], before = {}) => {
  const line = openTimeline(before);
  for (const signal of signals) takeSignal(line, signal);
  return line;
};

describe('engaged time', () => {
  test.each([
    { why: 'runs from the opening for half a minute', signals: [], at: 40_000, engaged: 30_000 },
    { why: 'goes on with input', signals: [{ t: 20_000, s: 'input' as const }], at: 45_000, engaged: 45_000 },
    { why: 'stops in a hidden tab', signals: [{ t: 5000, s: 'hide' as const }], at: 20_000, engaged: 5000 },
    {
      why: 'starts again as the tab comes back',
      signals: [
        { t: 5000, s: 'hide' as const },
        { t: 15_000, s: 'show' as const },
      ],
      at: 20_000,
      engaged: 10_000,
    },
    { why: 'is not moved by an exit', signals: [{ t: 29_000, s: 'exit' as const }], at: 60_000, engaged: 30_000 },
  ])('$why', ({ signals, at, engaged }) => {
    expect(engagedAt(after(signals), at)).toBe(engaged);
  });

  test('of a page opened in a hidden tab it is nothing', () => {
    expect(engagedAt(after([], { hidden: true }), 9000)).toBe(0);
  });
});

describe('clocks', () => {
  test('an engaged delay wakes when it is reached, and not if engagement ends first', () => {
    const moment = { kind: 'delay' as const, seconds: 20, counting: 'engaged' as const };
    expect(delayWakesAt(moment, after([]), 0)).toBe(20_000);
    expect(delayWakesAt({ ...moment, seconds: 40 }, after([]), 0)).toBe(Infinity);
    expect(delayWakesAt({ ...moment, seconds: 40 }, after([{ t: 15_000, s: 'input' }]), 15_000)).toBe(40_000);
    expect(delayWakesAt({ ...moment, of: 'visit' }, after([], { visitEngaged: 15_000 }), 0)).toBe(5000);
  });

  test('seconds are taken to the millisecond', () => {
    expect(delayWakesAt({ kind: 'delay', seconds: 1.1 }, after([]), 0)).toBe(1100);
  });

  test('idle is judged as it stood just before a signal', () => {
    const line = after([{ t: 20_000, s: 'click', on: [] }]);
    expect(idleHolds({ kind: 'idle', seconds: 20 }, line, 20_000)).toBe(true);
    advanceTo(line, 20_001);
    expect(idleHolds({ kind: 'idle', seconds: 20 }, line, 20_001)).toBe(false);
    expect(idleWakesAt({ kind: 'idle', seconds: 20 }, line, 20_001)).toBe(40_000);
  });
});

describe('an element in view', () => {
  const moment = { kind: 'visible' as const, selector: '#a', share: 50, seconds: 3 };
  const seen = (t: number, share: number): Signal => ({ t, s: 'seen', selector: '#a', share });
  const watched = (signals: readonly Signal[]) => {
    const line = openTimeline();
    visibleWakesAt(moment, line, 0); // Follows the element from the opening on.
    for (const signal of signals) takeSignal(line, signal);
    return line;
  };
  test.each([
    { why: 'for long enough', signals: [seen(1000, 60)], at: 4000, holds: true },
    { why: 'not yet long enough', signals: [seen(1000, 60)], at: 3999, holds: false },
    { why: 'a smaller share is a break', signals: [seen(1000, 60), seen(2000, 40), seen(2500, 60)], at: 5000, holds: false },
    { why: 'a larger share is none', signals: [seen(1000, 60), seen(2000, 90)], at: 4000, holds: true },
    {
      why: 'a hidden tab is a break',
      signals: [seen(1000, 60), { t: 2000, s: 'hide' as const }, { t: 2500, s: 'show' as const }],
      at: 5000,
      holds: false,
    },
    {
      why: 'and counts anew after it',
      signals: [seen(1000, 60), { t: 2000, s: 'hide' as const }, { t: 2500, s: 'show' as const }],
      at: 5500,
      holds: true,
    },
    { why: 'reached at the instant of the break', signals: [seen(1000, 60), seen(4000, 0)], at: 4000, holds: true },
    { why: 'stays true', signals: [seen(1000, 60), seen(4500, 0)], at: 9000, holds: true },
  ])('$why: $holds', ({ signals, at, holds }) => {
    expect(visibleHolds(moment, watched(signals), at)).toBe(holds);
  });
});

test('what nobody watched is unknown, and what happened all the same is true', () => {
  const line = after([{ t: 5, s: 'click', on: ['.b'] }], { watched: ['.a'] });
  const holds = (selector: string) => momentHolds({ kind: 'click', selector }, line, 9, 0);
  expect([holds('.a'), holds('.b'), holds('.c')]).toEqual([false, true, null]);
});

test('a page that cannot scroll is at its end', () => {
  expect(momentHolds({ kind: 'scroll', atLeast: 100 }, after([], { cannotScroll: true }), 0)).toBe(true);
  const whole = after([{ t: 5000, s: 'whole' }]);
  expect(momentHolds({ kind: 'scroll', atLeast: 100 }, whole, 5000)).toBe(true);
  // Nobody did anything: it is no scroll, and no input.
  expect(momentHolds({ kind: 'scrollStart' }, whole, 5000)).toBe(false);
  expect(whole.lastInput).toBe(0);
  expect(momentHolds({ kind: 'scrollStart' }, after([], { cannotScroll: true }), 0)).toBe(false);
});
