import { bounded, OutOfBounds } from '@/server/bounded/bounded';
import { sized } from '../../sized';
import type { Wrongs } from '../ground';
import { inWords } from '../ground';

const CALENDARS = sized(24, 4);
/** What reads a file may take, with the wait for a process, ms. */
const MOST_MS = 12_000;
/** The process that answers people stands still for no longer, ms. */
const MOST_STILL_MS = 500;
const ENDLESS = [
  'FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30',
  'FREQ=SECONDLY;BYMONTH=2;BYMONTHDAY=31',
  'FREQ=YEARLY;BYDAY=MO;BYMONTHDAY=32;BYMONTH=4',
  'FREQ=MINUTELY;BYHOUR=25',
] as const;

const calendarOf = (rule: string, events: number): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    ...Array.from({ length: events }, (_, nth) =>
      [
        'BEGIN:VEVENT',
        `UID:${nth}@calendar.example`,
        'DTSTART:20260101T090000Z',
        'DTEND:20260101T100000Z',
        `RRULE:${rule}`,
        'END:VEVENT',
      ].join('\r\n'),
    ),
    'END:VCALENDAR',
  ].join('\r\n');

/** Calendars that never end are read beside one that is good: each is given up within bounds, the good one is read, and nobody else waits. */
export async function runCalendars(): Promise<Wrongs> {
  const wrongs: string[] = [];
  const span = { from: Date.UTC(2026, 0, 1), to: Date.UTC(2026, 0, 22), zone: 'UTC' };
  const read = (text: string) => bounded('busyIn', [text, span], (_code, message) => new Error(message));
  let still = 0;
  let last = performance.now();
  const watch = setInterval(() => {
    still = Math.max(still, performance.now() - last);
    last = performance.now();
  }, 10);
  let longest = 0;
  let given = 0;
  // Two at a time, as many as are read at once.
  const queue = Array.from({ length: CALENDARS }, (_, nth) => calendarOf(ENDLESS[nth % ENDLESS.length] ?? ENDLESS[0], nth % 2 ? 1 : 200));
  await Promise.all(
    Array.from({ length: 2 }, async () => {
      for (let text = queue.pop(); text !== undefined; text = queue.pop()) {
        const began = performance.now();
        await read(text).then(
          () => given++,
          (cause: unknown) => {
            if (cause instanceof OutOfBounds || cause instanceof Error) given++;
          },
        );
        longest = Math.max(longest, performance.now() - began);
      }
    }),
  );
  const good = await read(calendarOf('FREQ=DAILY;COUNT=5', 1));
  clearInterval(watch);
  if (given !== CALENDARS) wrongs.push(`${given} of ${CALENDARS} calendars came to an end`);
  if (good.length !== 5) wrongs.push(`A good calendar has ${good.length} hours, expected 5`);
  if (longest > MOST_MS) wrongs.push(`A calendar took ${inWords(longest)} ms`);
  if (still > MOST_STILL_MS) wrongs.push(`This process stood still for ${inWords(still)} ms`);
  console.log(
    `calendars: ${CALENDARS} without an end or a day that there is, given up or read within ${inWords(longest)} ms each; the process beside them stood still for ${inWords(still)} ms at most, and reads a good one`,
  );
  return wrongs;
}
