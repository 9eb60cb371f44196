import type { Hours } from './hours';
import { isWithin } from './hours';
import { busyIn, hoursCalendar, NoCalendar, rangesOf } from './calendar';

const at = (text: string): number => Date.parse(text);
const NOVEMBER = { from: at('2026-11-01T00:00Z'), to: at('2026-12-01T00:00Z'), zone: 'Europe/Vienna' };
const calendar = (...lines: readonly string[]): string =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//x//EN', ...lines, 'END:VCALENDAR'].join('\r\n');
const event = (...lines: readonly string[]): string =>
  ['BEGIN:VEVENT', 'UID:a@x', 'DTSTAMP:20261101T000000Z', ...lines, 'END:VEVENT'].join('\r\n');
const words = (text: string, window = NOVEMBER): string[] =>
  busyIn(text, window).map(([from, to]) => `${new Date(from).toISOString().slice(0, 16)}/${new Date(to).toISOString().slice(0, 16)}`);

test('events in UTC, without a zone, of a zone by name, and of whole days', () => {
  expect(words(calendar(event('DTSTART:20261127T100000Z', 'DTEND:20261127T110000Z')))).toEqual(['2026-11-27T10:00/2026-11-27T11:00']);
  expect(words(calendar(event('DTSTART:20261127T100000', 'DURATION:PT30M')))).toEqual(['2026-11-27T09:00/2026-11-27T09:30']);
  expect(words(calendar(event('DTSTART;TZID=America/New_York:20261127T100000', 'DTEND;TZID=America/New_York:20261127T110000')))).toEqual([
    '2026-11-27T15:00/2026-11-27T16:00',
  ]);
  expect(words(calendar(event('DTSTART;VALUE=DATE:20261127', 'DTEND;VALUE=DATE:20261128')))).toEqual(['2026-11-26T23:00/2026-11-27T23:00']);
});

test('a zone that the calendar brings along is its own', () => {
  const zone = [
    'BEGIN:VTIMEZONE',
    'TZID:Somewhere',
    'BEGIN:STANDARD',
    'DTSTART:19700101T000000',
    'TZOFFSETFROM:+0300',
    'TZOFFSETTO:+0300',
    'END:STANDARD',
    'END:VTIMEZONE',
  ].join('\r\n');
  expect(words(calendar(zone, event('DTSTART;TZID=Somewhere:20261127T100000', 'DTEND;TZID=Somewhere:20261127T110000')))).toEqual([
    '2026-11-27T07:00/2026-11-27T08:00',
  ]);
});

test('what repeats does so with its exceptions: one left out, one moved, one called off', () => {
  const weekly = event('DTSTART:20261102T090000Z', 'DTEND:20261102T100000Z', 'RRULE:FREQ=WEEKLY;BYDAY=MO', 'EXDATE:20261109T090000Z');
  const moved = event('RECURRENCE-ID:20261116T090000Z', 'DTSTART:20261117T140000Z', 'DTEND:20261117T150000Z');
  const off = event('RECURRENCE-ID:20261123T090000Z', 'STATUS:CANCELLED', 'DTSTART:20261123T090000Z', 'DTEND:20261123T100000Z');
  expect(words(calendar(weekly, moved, off))).toEqual([
    '2026-11-02T09:00/2026-11-02T10:00',
    '2026-11-17T14:00/2026-11-17T15:00',
    '2026-11-30T09:00/2026-11-30T10:00',
  ]);
});

test('over a change of the clocks what repeats stays at its hour on the wall', () => {
  const daily = event('DTSTART;TZID=Europe/Vienna:20261023T090000', 'DTEND;TZID=Europe/Vienna:20261023T100000', 'RRULE:FREQ=DAILY;COUNT=4');
  expect(words(calendar(daily), { ...NOVEMBER, from: at('2026-10-20T00:00Z') })).toEqual([
    '2026-10-23T07:00/2026-10-23T08:00',
    '2026-10-24T07:00/2026-10-24T08:00',
    '2026-10-25T08:00/2026-10-25T09:00',
    '2026-10-26T08:00/2026-10-26T09:00',
  ]);
});

test('what is marked as free, called off, over, or empty does not count; what meets is one', () => {
  const two = calendar(
    event('DTSTART:20261127T100000Z', 'DTEND:20261127T110000Z'),
    event('DTSTART:20261127T110000Z', 'DTEND:20261127T120000Z').replace('a@x', 'b@x'),
    event('DTSTART:20261128T100000Z', 'DTEND:20261128T110000Z', 'TRANSP:TRANSPARENT').replace('a@x', 'c@x'),
    event('DTSTART:20261128T100000Z', 'DTEND:20261128T110000Z', 'STATUS:CANCELLED').replace('a@x', 'd@x'),
    event('DTSTART:20261001T100000Z', 'DTEND:20261001T110000Z').replace('a@x', 'e@x'),
    event('DTSTART:20261129T100000Z').replace('a@x', 'f@x'),
  );
  expect(words(two)).toEqual(['2026-11-27T10:00/2026-11-27T12:00']);
  const list = calendar(
    ['BEGIN:VFREEBUSY', 'UID:f@x', 'FREEBUSY:20261127T100000Z/PT1H', 'FREEBUSY;FBTYPE=FREE:20261127T150000Z/PT1H', 'END:VFREEBUSY'].join(
      '\r\n',
    ),
  );
  expect(words(list)).toEqual(['2026-11-27T10:00/2026-11-27T11:00']);
});

test('something that repeats for ever, or every second, ends', () => {
  const ever = event('DTSTART:19700101T000000Z', 'DTEND:19700101T000001Z', 'RRULE:FREQ=SECONDLY');
  expect(busyIn(calendar(ever), NOVEMBER)).toEqual([]);
});

test.each([
  ['nothing', ''],
  ['a page', '<html></html>'],
  ['an event alone', event('DTSTART:20261127T100000Z')],
  ['half of one', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT'],
])('%s is no calendar', (_what, text) => {
  expect(() => busyIn(text, NOVEMBER)).toThrow(NoCalendar);
});

test('hours out, read in again, are the hours', () => {
  const hours: Hours = {
    zone: 'Europe/Vienna',
    week: {
      5: [['22:00', '02:00']],
      6: [['09:30', '12:00']],
      7: [
        ['00:00', '12:00'],
        ['12:00', '00:00'],
      ],
    },
    off: [],
  };
  const now = at('2026-10-20T10:00Z');
  const text = hoursCalendar({ hours, name: 'Ines', uid: 'x', now, days: 14 });
  const busy = busyIn(text.replaceAll('TRANSP:TRANSPARENT', 'TRANSP:OPAQUE'), { from: now, to: now + 14 * 86_400_000, zone: 'UTC' });
  expect(busy).toEqual(rangesOf(hours, { from: now, to: now + 14 * 86_400_000 }));
  for (const [from, to] of busy) {
    expect([isWithin(hours, from - 1), isWithin(hours, from), isWithin(hours, to - 1), isWithin(hours, to)]).toEqual([
      false,
      true,
      true,
      false,
    ]);
  }
  // By themselves they keep nobody busy.
  expect(busyIn(text, { from: now, to: now + 14 * 86_400_000, zone: 'UTC' })).toEqual([]);
});
