// When somebody of the team is here to answer.
import { z } from 'zod';
import { isZone, localTime } from '../time/localTime';

const MINUTE_MS = 60_000;
const DAY_MINUTES = 24 * 60;
const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/);
const range = z.tuple([clock, clock]).refine(([from, to]) => from !== to, 'hours.empty');

/** By ISO weekday (Monday is 1) ranges of hours on the wall clocks of a zone; one that ends before it begins goes on into the next day. `off`: local days. */
export const hoursSchema = z.strictObject({
  zone: z.string().max(80).refine(isZone, 'calendar.zone'),
  week: z.partialRecord(z.enum(['1', '2', '3', '4', '5', '6', '7']), z.array(range).max(6)),
  off: z.array(z.iso.date()).max(400),
});
export type Hours = {
  readonly zone: string;
  readonly week: Readonly<Partial<Record<string, readonly (readonly [string, string])[]>>>;
  readonly off: readonly string[];
};

const minutesOf = (text: string): number => Number(text.slice(0, 2)) * 60 + Number(text.slice(3));

const dates = new Map<string, Intl.DateTimeFormat>();
/** "2026-11-27": the day on the wall calendars of a zone at an instant. */
function localDate(at: number, zone: string): string {
  let format = dates.get(zone);
  if (!format)
    dates.set(zone, (format = new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' })));
  return format.format(at);
}

/** Whether an instant, UTC ms, lies in the hours: from-inclusive, to-exclusive. What began on a day off is off until its end, past midnight, too. */
export function isWithin({ zone, week, off }: Hours, at: number): boolean {
  const { weekday, minutes } = localTime(at, zone);
  const today = localDate(at, zone);
  const before = weekday === 1 ? 7 : weekday - 1;
  // Twelve hours before this day's noon, whatever the clocks did in the night.
  const yesterday = localDate(at - minutes * MINUTE_MS - 12 * 60 * MINUTE_MS, zone);
  const holds = (day: number, date: string, now: number): boolean =>
    !off.includes(date) &&
    (week[String(day)] ?? []).some(([from, to]) => {
      const [begin, end] = [minutesOf(from), minutesOf(to)];
      return now >= begin && now < (end > begin ? end : end + DAY_MINUTES);
    });
  return holds(weekday, today, minutes) || holds(before, yesterday, minutes + DAY_MINUTES);
}

/** What is known of somebody's being here; `hereUntil` and `awayUntil` are by hand, UTC ms. */
export interface Presence {
  readonly hours: Hours | null;
  readonly hereUntil: number | null;
  readonly awayUntil: number | null;
  /** When a calendar says that they are busy, UTC ms. */
  readonly busy?: readonly (readonly [from: number, to: number])[];
}

/** By hand before by the calendar, and that before the hours; of both by hand, away. `now`: UTC ms. */
export function isHere({ hours, hereUntil, awayUntil, busy = [] }: Presence, now: number): boolean {
  if (awayUntil !== null && awayUntil > now) return false;
  if (hereUntil !== null && hereUntil > now) return true;
  return !busy.some(([from, to]) => from <= now && now < to) && hours !== null && isWithin(hours, now);
}

const LOOK_AHEAD_MS = 14 * DAY_MINUTES * MINUTE_MS;
const STEP_MS = 15 * MINUTE_MS;

/**
 * When somebody who is here goes, or who is away comes: the next change, UTC ms, to the quarter of an hour; undefined where there is none within two weeks.
 */
export function nextChange(presence: Presence, now: number): number | undefined {
  const is = isHere(presence, now);
  const first = Math.floor(now / STEP_MS) * STEP_MS + STEP_MS;
  for (let at = first; at <= now + LOOK_AHEAD_MS; at += STEP_MS) if (isHere(presence, at) !== is) return at;
  return undefined;
}
