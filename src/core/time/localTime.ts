const formats = new Map<string, Intl.DateTimeFormat | undefined>();
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

function formatFor(zone: string): Intl.DateTimeFormat | undefined {
  if (!formats.has(zone)) {
    try {
      formats.set(
        zone,
        new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'short', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }),
      );
    } catch {
      // The only way to learn that a zone name is unknown is that it is refused.
      formats.set(zone, undefined);
    }
  }
  return formats.get(zone);
}

export const isZone = (zone: string): boolean => formatFor(zone) !== undefined;

/** ISO weekday (Monday is 1) and minutes after midnight on the wall clocks of a zone at an instant. */
export function localTime(at: number, zone: string): { weekday: number; minutes: number } {
  const parts = Object.fromEntries((formatFor(zone)?.formatToParts(at) ?? []).map(({ type, value }) => [type, value]));
  return { weekday: WEEKDAYS.indexOf(parts['weekday'] ?? '') + 1, minutes: Number(parts['hour']) * 60 + Number(parts['minute']) };
}
