import { z } from 'zod';
import type { Truth } from '../../logic/truth';
import { isoInstant, isWrittenInstant } from '../../logic/valueTest';
import { isZone, localTime } from '../../time/localTime';
import type { Subject } from '../subject';
import type { PeopleKind } from '../kind';
import { spoken } from '../../typing/spoken';
import { maybe, shape } from '../../testing/examples';
import { calendarsMeet } from './calendarWeek';

const MINUTE_MS = 60_000;
const instant = () => z.string().refine(isWrittenInstant, { error: 'calendar.instant' });
const hour = () => z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/);

export const calendarSchema = () =>
  z
    .strictObject({
      kind: z.literal('calendar'),
      from: instant().optional(),
      until: instant().optional(),
      weekdays: z.array(z.int().min(1).max(7)).min(1).optional(),
      hours: z.tuple([hour(), hour()]).optional(),
      zone: z
        .string()
        .max(60)
        .refine((zone) => zone === 'visitor' || isZone(zone), { error: 'calendar.zone' })
        .optional(),
    })
    .refine(({ hours }) => hours === undefined || hours[0] !== hours[1], { path: ['hours'], error: 'calendar.equalHours' })
    .refine(({ from, until }) => !from || !until || Date.parse(from) < Date.parse(until), {
      path: ['until'],
      error: 'calendar.upsideDown',
    });
export type Calendar = z.infer<ReturnType<typeof calendarSchema>>;

/** `from <= now < until`; hours from-inclusive, to-exclusive; after midnight belongs to the day before. */
export function calendarHolds({ from, until, weekdays, hours, zone }: Calendar, { visitor, now }: Subject): Truth {
  if (from !== undefined && now < (isoInstant(from) ?? NaN)) return false;
  if (until !== undefined && now >= (isoInstant(until) ?? NaN)) return false;
  if (!weekdays && !hours) return true;
  const name = zone === undefined || zone === 'visitor' ? (visitor.zone ?? 'UTC') : zone;
  if (!isZone(name)) return null;
  const local = localTime(now, name);
  let weekday = local.weekday;
  if (hours) {
    const [start, end] = hours.map(minutesOf) as [number, number];
    const crossesMidnight = start > end;
    const isInside = crossesMidnight ? local.minutes >= start || local.minutes < end : local.minutes >= start && local.minutes < end;
    if (!isInside) return false;
    if (crossesMidnight && local.minutes < end) weekday = weekday === 1 ? 7 : weekday - 1;
  }
  return !weekdays || weekdays.includes(weekday);
}

/** The next instant after `now` at which the calendar could change its mind. */
export function calendarWakesAt({ from, until, weekdays, hours }: Calendar, now: number): number {
  const edges = [from, until].map((text) => (text === undefined ? Infinity : (isoInstant(text) ?? Infinity)));
  // Every zone's wall clock turns over on a whole minute of UTC.
  if (weekdays || hours) edges.push((Math.floor(now / MINUTE_MS) + 1) * MINUTE_MS);
  return Math.min(...edges.filter((edge) => edge > now));
}

function minutesOf(clock: string): number {
  const [hours = 0, minutes = 0] = clock.split(':').map(Number);
  return hours * 60 + minutes;
}

const DAYS = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

export function calendarWords({ from, until, weekdays, hours, zone }: Calendar): string {
  const parts = [
    ...(from ? [`from ${from}`] : []),
    ...(until ? [`until ${until}`] : []),
    ...(weekdays ? [`on ${weekdays.map((day) => DAYS[day]).join(', ')}`] : []),
    ...(hours ? [`between ${hours[0]} and ${hours[1]}`] : []),
    ...(zone && zone !== 'visitor' ? [`in ${zone}`] : []),
  ];
  return `come ${parts.length ? parts.join(' ') : 'at any time'}`;
}

export const calendarKind: PeopleKind<Calendar, 'page'> = {
  kind: 'calendar',
  topic: 'when',
  schema: calendarSchema,
  holds: calendarHolds,
  words: calendarWords,
  found: (_condition, { visitor, now }) => `${new Date(now).toISOString()}, visitor in ${visitor.zone ?? 'UTC'}`,
  judgedIn: 'page',
  isSupplied: true,
  counting: { by: 'record' },
  changes: { clock: calendarWakesAt },
  reasoning: {
    contradict: (a, b) => {
      const [from, until] = [instantOf(a.from), instantOf(b.until)];
      const [from2, until2] = [instantOf(b.from), instantOf(a.until)];
      if ((from !== undefined && until !== undefined && from >= until) || (from2 !== undefined && until2 !== undefined && from2 >= until2))
        return 'One calendar begins when the other is over.';
      return calendarsMeet(a, b) ? undefined : 'The two calendars have no hour of the week in common.';
    },
    impossible: ({ until }, now) =>
      until && (isoInstant(until) ?? Infinity) <= now ? `The calendar ended ${until.slice(0, 10)}.` : undefined,
  },
  editor: {
    label: 'On days and at hours',
    make: () => ({ kind: 'calendar', weekdays: [1, 2, 3, 4, 5] }),
    rows: [[{ field: 'own', part: 'calendar' }]],
  },
  typed: (said) => {
    const zone = /\b(?:UTC|[A-Z][A-Za-z]+\/[A-Z][A-Za-z_]+)\b/.exec(said.raw)?.[0];
    const known = zone !== undefined && isZone(zone) ? zone : undefined;
    const words = said.words.filter((word) => word !== known?.toLowerCase());
    const text = ` ${words.join(' ')} `;
    const weekdays = weekdaysIn(text);
    const [part] = Object.entries(PARTS).flatMap(([name, [days, hours]]) => (text.includes(` ${name} `) ? [{ days, hours }] : []));
    const hours = said.hours ?? part?.hours;
    const days = weekdays.length ? weekdays : part?.days;
    if (!hours && !days && said.dates.length === 0) return [];
    const heard = spoken(
      { ...said, words },
      {
        also: [
          ...Object.keys(PARTS),
          ...DAY_NAMES.flat(),
          'weekends',
          'weekend',
          'weekdays',
          'weekday',
          'come',
          'comes',
          'between',
          'hours',
          'until',
          'till',
          'before',
          'since',
          'after',
          'starting',
          'or',
          'and',
          'through',
          'day',
          'days',
          'date',
          "o'clock",
          'clock',
          'time',
          '-',
          '–',
        ],
        hours: true,
        dates: true,
      },
    );
    if (!heard || said.dates.length > 2 || !said.dates.every(isWrittenInstant)) return [];
    const isUntil = /\b(?:until|till|before|ending|up to)\b/.test(said.text);
    const [first, second] = said.dates;
    const dates =
      second !== undefined ? { from: first, until: second } : first === undefined ? {} : isUntil ? { until: first } : { from: first };
    return [
      {
        leaf: {
          kind: 'calendar',
          ...dates,
          ...(days ? { weekdays: [...days] } : {}),
          ...(hours ? { hours: [...hours] } : {}),
          ...(known ? { zone: known } : {}),
        },
        sureness: part && !said.hours && !weekdays.length ? 2 : 3,
      },
    ];
  },
  example: (fc) =>
    shape(fc, {
      kind: fc.constant('calendar' as const),
      from: maybe(fc, fc.constantFrom('2026-11-20', '2026-11-25T10:30:00Z', '2026-12-01')),
      until: maybe(fc, fc.constantFrom('2026-12-24', '2027-01-01')),
      weekdays: maybe(fc, fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1, maxLength: 3 })),
      hours: maybe(fc, fc.constantFrom<[string, string]>(['08:00', '12:00'], ['10:00', '11:00'], ['22:00', '06:00'])),
      zone: maybe(fc, fc.constantFrom('visitor', 'Europe/Vienna')),
    }).filter(({ from, until }) => !from || !until || Date.parse(from) < Date.parse(until)),
};

const instantOf = (text: string | undefined): number | undefined => (text === undefined ? undefined : isoInstant(text));

const DAY_NAMES = [
  ['monday', 'mondays', 'mon'],
  ['tuesday', 'tuesdays', 'tue', 'tues'],
  ['wednesday', 'wednesdays', 'wed'],
  ['thursday', 'thursdays', 'thu', 'thur', 'thurs'],
  ['friday', 'fridays', 'fri'],
  ['saturday', 'saturdays', 'sat'],
  ['sunday', 'sundays', 'sun'],
];
const PARTS: Readonly<Record<string, readonly [readonly number[] | undefined, readonly [string, string] | undefined]>> = {
  'working hours': [
    [1, 2, 3, 4, 5],
    ['09:00', '17:00'],
  ],
  'business hours': [
    [1, 2, 3, 4, 5],
    ['09:00', '17:00'],
  ],
  'office hours': [
    [1, 2, 3, 4, 5],
    ['09:00', '17:00'],
  ],
  morning: [undefined, ['06:00', '12:00']],
  mornings: [undefined, ['06:00', '12:00']],
  afternoon: [undefined, ['12:00', '18:00']],
  afternoons: [undefined, ['12:00', '18:00']],
  evening: [undefined, ['18:00', '22:00']],
  evenings: [undefined, ['18:00', '22:00']],
  night: [undefined, ['22:00', '06:00']],
  nights: [undefined, ['22:00', '06:00']],
};

/** "mon-fri", "weekends", "tuesday and thursday". */
function weekdaysIn(text: string): number[] {
  if (/ weekends? /.test(text)) return [6, 7];
  if (/ week-?days? /.test(text)) return [1, 2, 3, 4, 5];
  const numberOf = (word: string): number => DAY_NAMES.findIndex((names) => names.includes(word)) + 1;
  const span = / ([a-z]+) ?(?:-|–|to|through|until) ?([a-z]+) /.exec(text);
  const [from, upTo] = [numberOf(span?.[1] ?? ''), numberOf(span?.[2] ?? '')];
  if (from && upTo) return Array.from({ length: ((upTo - from + 7) % 7) + 1 }, (_, day) => ((from - 1 + day) % 7) + 1).sort();
  return [
    ...new Set(
      text
        .split(/[^a-z]+/)
        .map(numberOf)
        .filter(Boolean),
    ),
  ].sort();
}
