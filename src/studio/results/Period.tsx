import { useState } from 'react';
import type { CampaignResults as Results } from '@/server/results/report';

const DAY_MS = 86_400_000;
const FIRST_DAY = '1970-01-02';
const RECENT = [7, 30, 90] as const;

/** A day as the field for a date has it, and the instant at which it begins here. */
const toField = (at: number): string => new Date(at - new Date(at).getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
export const beginningOf = (day: string): number | undefined => {
  const at = new Date(`${day}T00:00:00`).getTime();
  return day !== '' && Number.isFinite(at) ? at : undefined;
};
/** The beginning of the next day: some days have 23 or 25 hours. */
export const endOf = (day: string): number | undefined => {
  const begins = beginningOf(day);
  return begins === undefined ? undefined : beginningOf(toField(begins + 36 * 3_600_000));
};
const daysBack = (days: number): string => toField(Date.now() - days * DAY_MS);

export const dayOf = (at: number): string => new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** What the select says of a stretch in which the campaign was the same. */
function stretchWords(starts: Results['starts'], nth: number): string {
  const [start, next] = [starts[nth], starts[nth + 1]];
  if (!start) return '';
  if (next) return `as release ${start.number} had it, ${dayOf(start.at)} to ${dayOf(next.at)}`;
  return nth === 0 ? `since it began, ${dayOf(start.at)}` : `since its last change, ${dayOf(start.at)}`;
}

/**
 * Of whom it is: those who met the campaign since its last change, before that, or those who first met it from one day to another. A part of the chart that
 * is dragged over does the same.
 */
export function Period({
  from,
  to,
  since,
  starts,
  choose,
}: {
  from: string;
  to: string;
  since: number | undefined;
  starts: Results['starts'];
  choose: (next: { from?: string; to?: string; since?: string }) => void;
}) {
  const link = 'underline decoration-line underline-offset-4 hover:text-ink';
  const isChosen = from !== '' || to !== '';
  return (
    <div className="flex flex-wrap items-center gap-3 text-soft" role="group" aria-label="Period">
      <span id="first-met">Visitors who first met it</span>
      <select
        aria-labelledby="first-met"
        className="field text-ink"
        value={isChosen ? '' : (since ?? 'none')}
        onChange={({ target }) => choose({ from: '', to: '', since: target.value === String(starts.at(-1)?.number) ? '' : target.value })}
      >
        {isChosen && <option value="">in a period of your own</option>}
        {starts.length === 0 && <option value="none">since ever: it was never published</option>}
        {starts
          .map(({ number }, nth) => (
            <option key={number} value={number}>
              {stretchWords(starts, nth)}
            </option>
          ))
          .reverse()}
      </select>
      <span>or</span>
      {(
        [
          ['from', from],
          ['to', to],
        ] as const
      ).map(([label, day]) => (
        <label key={label} className="flex items-center gap-2">
          {label}
          <DayField day={day} onDay={(chosen) => choose({ [label]: chosen, since: '' })} />
        </label>
      ))}
      {RECENT.map((days) => (
        <button key={days} className={link} onClick={() => choose({ from: daysBack(days), to: '', since: '' })}>
          {days} days
        </button>
      ))}
      <button className={link} onClick={() => choose({ from: FIRST_DAY, to: '', since: '' })}>
        ever
      </button>
    </div>
  );
}

/** A year is typed digit by digit: what is no day of ours yet stays in the field alone. */
function DayField({ day, onDay }: { day: string; onDay: (day: string) => void }) {
  const [typed, setTyped] = useState(day);
  const [seen, setSeen] = useState(day);
  if (seen !== day) {
    setSeen(day);
    setTyped(day);
  }
  return (
    <input
      type="date"
      className="field text-ink"
      value={typed}
      min={FIRST_DAY}
      onChange={({ target }) => {
        setTyped(target.value);
        if (target.value === '' || target.value >= FIRST_DAY) onDay(target.value);
      }}
    />
  );
}
