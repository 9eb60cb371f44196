import type { Calendar } from './calendar';

const DAY = 1440;
const WEEK = 7 * DAY;

/** Do the two share a minute of the week? Certain only for the same zone; for two zones it is taken that they do. */
export function calendarsMeet(a: Calendar, b: Calendar): boolean {
  if ((a.zone ?? 'visitor') !== (b.zone ?? 'visitor')) return true;
  const [ours, theirs] = [minutesOf(a), minutesOf(b)];
  return ours.some((open, minute) => open === 1 && theirs[minute] === 1);
}

/** The minutes of a week, from Monday's midnight, in which the weekdays and hours hold. */
function minutesOf({ weekdays, hours }: Calendar): Uint8Array {
  const week = new Uint8Array(WEEK);
  const [start, end] = (hours ?? ['00:00', '24:00']).map((clock) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3))) as [
    number,
    number,
  ];
  const length = start < end ? end - start : DAY - start + end;
  for (const day of weekdays ?? [1, 2, 3, 4, 5, 6, 7]) {
    // Hours across midnight belong to the day on which they begin.
    for (let minute = 0; minute < length; minute++) week[((day - 1) * DAY + start + minute) % WEEK] = 1;
  }
  return week;
}
