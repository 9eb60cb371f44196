// iCalendar (RFC 5545), in and out: when somebody is busy, and when they are here.
import ICAL from 'ical.js';
import type { Hours } from './hours';
import { isWithin } from './hours';

/** An interval, UTC ms: from-inclusive, to-exclusive. */
export type Interval = readonly [from: number, to: number];

/** What is no calendar. */
export class NoCalendar extends Error {
  readonly code = 'calendar.unreadable';
}

const MOST_EVENTS = 20_000;
const MOST_OCCURRENCES = 20_000;

/**
 * When a calendar says that somebody is busy between two instants, UTC ms, joined and in order: events that are not cancelled and not marked as free, with
 * their repetitions and exceptions, and free-busy lists. Times without a zone, or of one that nobody knows, are those of `zone`. @throws NoCalendar
 */
export function busyIn(text: string, { from, to, zone }: { from: number; to: number; zone: string }): Interval[] {
  const calendars = parse(text);
  const found: Interval[] = [];
  const add = (start: ICAL.Time, end: ICAL.Time): void => {
    const [begin, over] = [instantOf(start, zone), instantOf(end, zone)];
    if (over > from && begin < to && over > begin) found.push([begin, over]);
  };
  for (const calendar of calendars) {
    const events = calendar.getAllSubcomponents('vevent').slice(0, MOST_EVENTS);
    const whole = events.filter((event) => !event.hasProperty('recurrence-id'));
    const changed = events.filter((event) => event.hasProperty('recurrence-id'));
    for (const component of whole) {
      if (isFree(component)) continue;
      const event = new ICAL.Event(component, { strictExceptions: true });
      const own = changed.filter((one) => uidOf(one) === event.uid);
      for (const one of own) event.relateException(one);
      if (event.isRecurring()) repeat(event, { to, zone, add });
      else if (event.startDate) add(event.startDate, event.endDate);
    }
    for (const list of calendar.getAllSubcomponents('vfreebusy'))
      for (const property of list.getAllProperties('freebusy'))
        if (property.getParameter('fbtype') !== 'FREE')
          for (const period of property.getValues() as ICAL.Period[]) add(period.start, period.getEnd());
  }
  return joined(found);
}

function repeat(event: ICAL.Event, { to, zone, add }: { to: number; zone: string; add: (start: ICAL.Time, end: ICAL.Time) => void }): void {
  const iterator = event.iterator();
  for (let nth = 0; nth < MOST_OCCURRENCES; nth++) {
    const next = iterator.next() as ICAL.Time | null;
    if (!next || instantOf(next, zone) >= to) return;
    const { item, startDate, endDate } = event.getOccurrenceDetails(next);
    if (!isFree(item.component)) add(startDate, endDate);
  }
}

const uidOf = (component: ICAL.Component): string => String(component.getFirstPropertyValue('uid') ?? '');
const isFree = (component: ICAL.Component): boolean =>
  component.getFirstPropertyValue('transp') === 'TRANSPARENT' || component.getFirstPropertyValue('status') === 'CANCELLED';

function parse(text: string): ICAL.Component[] {
  let calendars: ICAL.Component[];
  try {
    const read = ICAL.parse(text) as unknown[];
    calendars = (Array.isArray(read[0]) ? read : [read]).map((one) => new ICAL.Component(one as [string, unknown[], unknown[]]));
  } catch (cause) {
    throw new NoCalendar(`It is no iCalendar file: ${cause instanceof Error ? cause.message : String(cause)}`);
  }
  if (calendars.length === 0 || calendars.some(({ name }) => name !== 'vcalendar')) throw new NoCalendar('It is no iCalendar file');
  return calendars;
}

/** UTC ms; a day without a time begins where it does in `zone`. */
function instantOf(time: ICAL.Time, zone: string): number {
  const { year, month, day, hour, minute, second } = time;
  const of = time.zone;
  if (of === ICAL.Timezone.utcTimezone) return Date.UTC(year, month - 1, day, hour, minute, second);
  if (of && of !== ICAL.Timezone.localTimezone && !time.isDate) return time.toUnixTime() * 1000;
  const named = (time as { timezone?: string }).timezone;
  return wallToUtc([year, month, day, hour, minute, second], named && isKnown(named) ? named : zone);
}

const formats = new Map<string, Intl.DateTimeFormat | undefined>();
function formatOf(zone: string): Intl.DateTimeFormat | undefined {
  if (!formats.has(zone)) {
    try {
      formats.set(
        zone,
        new Intl.DateTimeFormat('en-GB', {
          timeZone: zone,
          hourCycle: 'h23',
          year: 'numeric',
          month: '2-digit',
          day: '2-digit',
          hour: '2-digit',
          minute: '2-digit',
          second: '2-digit',
        }),
      );
    } catch {
      // The only way to learn that a zone name is unknown is that it is refused.
      formats.set(zone, undefined);
    }
  }
  return formats.get(zone);
}
const isKnown = (zone: string): boolean => formatOf(zone) !== undefined;

function offsetAt(at: number, zone: string): number {
  const parts = Object.fromEntries((formatOf(zone)?.formatToParts(at) ?? []).map(({ type, value }) => [type, Number(value)]));
  const { year = 1970, month = 1, day = 1, hour = 0, minute = 0, second = 0 } = parts;
  return Date.UTC(year, month - 1, day, hour, minute, second) - Math.floor(at / 1000) * 1000;
}

/** The instant at which the wall clocks of a zone show that; of two the first, and of none as if they had not changed yet. */
function wallToUtc(
  [year, month, day, hour, minute, second]: readonly [number, number, number, number, number, number],
  zone: string,
): number {
  const wall = Date.UTC(year, month - 1, day, hour, minute, second);
  const guess = wall - offsetAt(wall, zone);
  const before = wall - offsetAt(guess - 3_600_000 * 3, zone);
  return before + offsetAt(before, zone) === wall ? before : wall - offsetAt(guess, zone);
}

function joined(intervals: readonly Interval[]): Interval[] {
  const sorted = [...intervals].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const out: [number, number][] = [];
  for (const [from, to] of sorted) {
    const last = out.at(-1);
    if (last && from <= last[1]) last[1] = Math.max(last[1], to);
    else out.push([from, to]);
  }
  return out;
}

const MINUTE_MS = 60_000;

/** Somebody's hours of so many days from `now` on, UTC ms, as events in UTC that mark no time as busy. */
export function hoursCalendar({
  hours,
  name,
  uid,
  now,
  days,
}: {
  hours: Hours;
  name: string;
  uid: string;
  now: number;
  days: number;
}): string {
  const calendar = new ICAL.Component('vcalendar');
  calendar.addPropertyWithValue('prodid', '-//Crindle//Hours//EN');
  calendar.addPropertyWithValue('version', '2.0');
  for (const [from, to] of rangesOf(hours, { from: now, to: now + days * 24 * 60 * MINUTE_MS })) {
    const event = new ICAL.Component('vevent');
    event.addPropertyWithValue('uid', `${uid}-${from}@crindle`);
    event.addPropertyWithValue('dtstamp', ICAL.Time.fromJSDate(new Date(now), true));
    event.addPropertyWithValue('dtstart', ICAL.Time.fromJSDate(new Date(from), true));
    event.addPropertyWithValue('dtend', ICAL.Time.fromJSDate(new Date(to), true));
    event.addPropertyWithValue('summary', `${name} answers visitors`);
    event.addPropertyWithValue('transp', 'TRANSPARENT');
    calendar.addSubcomponent(event);
  }
  return `${calendar.toString()}\r\n`;
}

/** When the hours hold between two instants, to the minute. */
export function rangesOf(hours: Hours, { from, to }: { from: number; to: number }): Interval[] {
  const step = 5 * MINUTE_MS;
  const out: [number, number][] = [];
  let begun: number | undefined;
  const edge = (before: number, after: number): number => {
    const was = isWithin(hours, before);
    for (let at = before; at < after; at += MINUTE_MS) if (isWithin(hours, at) !== was) return at;
    return after;
  };
  const first = Math.floor(from / MINUTE_MS) * MINUTE_MS;
  let was = isWithin(hours, first);
  if (was) begun = first;
  for (let at = first + step; at <= to; at += step) {
    const is = isWithin(hours, at);
    if (is === was) continue;
    const instant = edge(at - step, at);
    if (is) begun = instant;
    else if (begun !== undefined) {
      out.push([begun, instant]);
      begun = undefined;
    }
    was = is;
  }
  if (begun !== undefined) out.push([begun, to]);
  return out;
}
