import fc from 'fast-check';
import type { Hours, Presence } from './hours';
import { hoursSchema, isHere, isWithin, nextChange } from './hours';

const at = (text: string): number => Date.parse(text);
const VIENNA: Hours = {
  zone: 'Europe/Vienna',
  week: { 1: [['09:00', '17:00']], 5: [['22:00', '02:00']], 6: [['22:00', '03:30']] },
  off: ['2026-12-07'],
};

test.each([
  ['2026-11-30T08:00:00Z', true, 'Monday, nine o’clock'],
  ['2026-11-30T07:59:59Z', false, 'a second before'],
  ['2026-11-30T15:59:59Z', true, 'just before five'],
  ['2026-11-30T16:00:00Z', false, 'five is over'],
  ['2026-12-01T08:00:00Z', false, 'a Tuesday has none'],
  ['2026-12-07T10:00:00Z', false, 'a Monday off'],
  ['2026-11-27T22:30:00Z', true, 'Friday night'],
  ['2026-11-28T00:30:00Z', true, 'Friday’s hours past midnight'],
  ['2026-11-28T01:00:00Z', false, 'and their end'],
])('%s: %s (%s)', (instant, is) => {
  expect(isWithin(VIENNA, at(instant))).toBe(is);
});

test('over a change of the clocks the wall clock counts', () => {
  // In the night to Sunday, 25 October 2026, Vienna's clocks go back from three to two: 00:30Z and 01:30Z are both half past two.
  expect(
    ['2026-10-25T00:30:00Z', '2026-10-25T01:30:00Z', '2026-10-25T02:29:00Z', '2026-10-25T02:30:00Z'].map((text) =>
      isWithin(VIENNA, at(text)),
    ),
  ).toEqual([true, true, true, false]);
  // On 29 March 2026 they go on from two to three: half past three is an hour and a half after two.
  expect(['2026-03-29T00:59:00Z', '2026-03-29T01:29:00Z', '2026-03-29T01:30:00Z'].map((text) => isWithin(VIENNA, at(text)))).toEqual([
    true,
    true,
    false,
  ]);
});

test('what began on a day off is off past midnight, too; what began the day before is not', () => {
  const hours: Hours = { zone: 'UTC', week: { 5: [['22:00', '02:00']] }, off: ['2026-11-27'] };
  expect(isWithin(hours, at('2026-11-28T01:00:00Z'))).toBe(false);
  expect(isWithin({ ...hours, off: ['2026-11-28'] }, at('2026-11-28T01:00:00Z'))).toBe(true);
});

test('by hand is before the hours, and away before here', () => {
  const now = at('2026-11-30T10:00:00Z');
  const presence: Presence = { hours: VIENNA, hereUntil: null, awayUntil: null };
  expect(isHere(presence, now)).toBe(true);
  expect(isHere({ ...presence, awayUntil: now + 1 }, now)).toBe(false);
  expect(isHere({ ...presence, awayUntil: now }, now)).toBe(true);
  expect(isHere({ hours: null, hereUntil: now + 1, awayUntil: null }, now)).toBe(true);
  expect(isHere({ hours: null, hereUntil: now, awayUntil: null }, now)).toBe(false);
  // A calendar is before the hours, and after what was said by hand.
  const busy = [[now - 1, now + 1]] as const;
  expect(isHere({ ...presence, busy }, now)).toBe(false);
  expect(isHere({ ...presence, busy }, now + 1)).toBe(true);
  expect(isHere({ ...presence, busy, hereUntil: now + 1 }, now)).toBe(true);
});

test('the next change is when it is', () => {
  const presence: Presence = { hours: VIENNA, hereUntil: null, awayUntil: null };
  expect(nextChange(presence, at('2026-11-30T10:07:00Z'))).toBe(at('2026-11-30T16:00:00Z'));
  expect(nextChange(presence, at('2026-11-30T16:00:00Z'))).toBe(at('2026-12-04T21:00:00Z'));
  expect(nextChange({ hours: null, hereUntil: null, awayUntil: null }, 0)).toBeUndefined();
});

test('whoever has all hours of every day is always here, in whatever zone', () => {
  const day = [
    ['00:00', '12:00'],
    ['12:00', '00:00'],
  ] as const;
  const week = Object.fromEntries([1, 2, 3, 4, 5, 6, 7].map((nth) => [nth, day]));
  fc.assert(
    fc.property(
      fc.constantFrom('UTC', 'Europe/Vienna', 'Australia/Lord_Howe', 'America/St_Johns', 'Pacific/Apia'),
      fc.integer({ min: 0, max: 4_000_000_000 }),
      (zone, seconds) => isWithin({ zone, week, off: [] }, seconds * 1000),
    ),
  );
});

test('empty hours, unknown zones and days that are none are refused', () => {
  const wrong = (hours: object): boolean => !hoursSchema.safeParse({ zone: 'UTC', week: {}, off: [], ...hours }).success;
  expect([
    wrong({ week: { 1: [['09:00', '09:00']] } }),
    wrong({ week: { 8: [] } }),
    wrong({ zone: 'Nowhere/At all' }),
    wrong({ off: ['2026-02-30'] }),
    wrong({}),
  ]).toEqual([true, true, true, true, false]);
});
