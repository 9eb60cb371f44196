import { z } from 'zod';
import type { Truth } from '../../rules/truth';
import { isoInstant } from '../../rules/valueTest';
import { isZone, localTime } from '../../time/localTime';
import type { Subject } from '../subject';

const MINUTE_MS = 60_000;
const instant = () => z.string().refine((text) => isoInstant(text) !== undefined, { error: 'calendar.instant' });
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
