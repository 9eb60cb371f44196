import type { Subject } from '../subject';
import type { Calendar } from './calendar';
import { isoInstant, isWrittenInstant } from '../../logic/valueTest';
import { calendarHolds, calendarWakesAt } from './calendar';

const subject = (now: string, zone?: string): Subject => ({
  visitor: { visits: [], known: false, traits: {}, tags: [], responses: [], ...(zone ? { zone } : {}) },
  now: Date.parse(now),
  lookback: 30,
  sets: {},
  segments: {},
});

test.each<{ now: string; calendar: Omit<Calendar, 'kind'>; holds: boolean; why: string }>([
  { why: 'the start is inside', now: '2026-11-25T08:00:00Z', calendar: { hours: ['08:00', '18:00'] }, holds: true },
  { why: 'the end is outside', now: '2026-11-25T18:00:00Z', calendar: { hours: ['08:00', '18:00'] }, holds: false },
  { why: 'hours cross midnight', now: '2026-11-25T02:00:00Z', calendar: { hours: ['22:00', '06:00'] }, holds: true },
  {
    why: 'after midnight belongs to the day before',
    now: '2026-11-25T02:00:00Z',
    calendar: { weekdays: [2], hours: ['22:00', '06:00'] },
    holds: true,
  },
  { why: 'and not to its own', now: '2026-11-25T02:00:00Z', calendar: { weekdays: [3], hours: ['22:00', '06:00'] }, holds: false },
  {
    why: 'Monday night reaches into Sunday for day 7',
    now: '2026-11-30T01:00:00Z',
    calendar: { weekdays: [7], hours: ['22:00', '06:00'] },
    holds: true,
  },
  {
    why: 'summer time is an hour ahead',
    now: '2026-03-29T01:00:00Z',
    calendar: { hours: ['03:00', '04:00'], zone: 'Europe/Vienna' },
    holds: true,
  },
  { why: 'winter time is not', now: '2026-03-28T02:00:00Z', calendar: { hours: ['03:00', '04:00'], zone: 'Europe/Vienna' }, holds: true },
  { why: 'from is inside', now: '2026-11-25T00:00:00Z', calendar: { from: '2026-11-25' }, holds: true },
  { why: 'until is outside', now: '2026-11-25T00:00:00Z', calendar: { until: '2026-11-25' }, holds: false },
])('$why', ({ now, calendar, holds }) => {
  expect(calendarHolds({ kind: 'calendar', ...calendar }, subject(now))).toBe(holds);
});

test('the visitor’s zone decides where none is named, and one nobody knows leaves it unknown', () => {
  const evening: Calendar = { kind: 'calendar', hours: ['18:00', '20:00'] };
  expect(calendarHolds(evening, subject('2026-11-25T09:30:00Z', 'Asia/Tokyo'))).toBe(true);
  expect(calendarHolds(evening, subject('2026-11-25T09:30:00Z'))).toBe(false);
  expect(calendarHolds(evening, subject('2026-11-25T09:30:00Z', 'Mars/Olympus'))).toBeNull();
});

test('it wakes at the next edge only', () => {
  const now = Date.parse('2026-11-25T09:30:20Z');
  expect(calendarWakesAt({ kind: 'calendar', from: '2026-11-25', until: '2026-11-26' }, now)).toBe(Date.parse('2026-11-26'));
  expect(calendarWakesAt({ kind: 'calendar', hours: ['10:00', '11:00'] }, now)).toBe(Date.parse('2026-11-25T09:31:00Z'));
});

test.each([
  ['2026-11-25', Date.UTC(2026, 10, 25), true],
  ['2026-11-25T08:00Z', Date.UTC(2026, 10, 25, 8), true],
  ['2026-11-25T08:00:00+01:00', Date.UTC(2026, 10, 25, 7), true],
  ['2026-11-25T08:00', Date.UTC(2026, 10, 25, 8), false],
  ['the 25th', undefined, false],
] as const)('%s is one instant on every machine, and may be written only where it says its offset', (text, at, mayBeWritten) => {
  const zone = process.env['TZ'];
  process.env['TZ'] = 'Pacific/Auckland';
  try {
    expect([isoInstant(text), isWrittenInstant(text)]).toEqual([at, mayBeWritten]);
  } finally {
    if (zone === undefined) delete process.env['TZ'];
    else process.env['TZ'] = zone;
  }
});
