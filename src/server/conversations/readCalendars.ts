import { NoCalendar } from '@/core/conversations/calendar';
import type pg from 'pg';
import { bounded, OutOfBounds } from '../bounded/bounded';
import { callOut, NotCalled } from '../connections/callOut';
import { setBusy, takeDueCalendars } from '../db/colleagues';

/** So far back and ahead it is worked out when somebody is busy. */
const [BEFORE_MS, AHEAD_MS] = [24 * 3_600_000, 21 * 24 * 3_600_000];
const MOST_BYTES = 5 * 1024 * 1024;
const MOST_INTERVALS = 5_000;
/** What is wrong with a calendar is said where it was set. */
const KNOWN = [NotCalled, NoCalendar, OutOfBounds];

/** Reads the calendars that are due, of all sites of a server. Gives how many. `now`: UTC ms. */
export async function readCalendars(pool: pg.Pool, { now = Date.now }: { now?: () => number } = {}): Promise<number> {
  const at = now();
  const due = await takeDueCalendars(pool, at);
  await Promise.all(
    due.map(async ({ site, member, url, allowPrivate, text, zone }) => {
      try {
        const calendar = text ?? (await fetchCalendar(url, allowPrivate));
        const span = { from: at - BEFORE_MS, to: at + AHEAD_MS, zone };
        const busy = (await bounded('busyIn', [calendar, span], (_code, message) => new NoCalendar(message))).slice(0, MOST_INTERVALS);
        await setBusy(pool, site, { member, busy, note: '' });
      } catch (cause) {
        if (!KNOWN.some((kind) => cause instanceof kind)) console.error(cause);
        await setBusy(pool, site, { member, note: cause instanceof Error ? cause.message : String(cause) });
      }
    }),
  );
  return due.length;
}

async function fetchCalendar(url: string, allowPrivate: boolean): Promise<string> {
  const { status, body } = await callOut({ url, method: 'GET', headers: { accept: 'text/calendar' }, allowPrivate, mostBytes: MOST_BYTES });
  if (status < 200 || status >= 300) throw new NotCalled(`the address answered ${status}`);
  return body;
}
