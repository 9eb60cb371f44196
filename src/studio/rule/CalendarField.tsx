'use client';

import type { Calendar } from '@/core/people/kinds/calendar';
import { Row } from './fields';
import { TextField } from './TestField';
import { Ticks } from './Ticks';

const DAYS = ['1', '2', '3', '4', '5', '6', '7'] as const;
const NAMES = { 1: 'Mon', 2: 'Tue', 3: 'Wed', 4: 'Thu', 5: 'Fri', 6: 'Sat', 7: 'Sun' } as const;

/** Dates, weekdays and hours, by the visitor's clock or that of a zone. */
export function CalendarField({ value, onChange }: { value: Calendar; onChange: (value: Calendar) => void }) {
  const set = (part: keyof Calendar, next: unknown): void => {
    const { [part]: _old, ...rest } = value;
    onChange((next === undefined || next === '' ? rest : { ...rest, [part]: next }) as Calendar);
  };
  const day = (text: string | undefined): string => (text ?? '').slice(0, 10);
  return (
    <div className="grid gap-1.5">
      <Row>
        <b>on</b>
        <Ticks
          label="Weekdays"
          options={DAYS}
          words={NAMES}
          value={(value.weekdays ?? []).map(String) as (typeof DAYS)[number][]}
          onChange={(days) => set('weekdays', days.length ? days.map(Number).sort() : undefined)}
        />
      </Row>
      <Row>
        <label className="inline-flex items-center gap-1.5">
          from{' '}
          <input
            type="date"
            aria-label="From date"
            className="field"
            value={day(value.from)}
            onChange={(event) => set('from', event.target.value)}
          />
        </label>
        <label className="inline-flex items-center gap-1.5">
          until{' '}
          <input
            type="date"
            aria-label="Until date"
            className="field"
            value={day(value.until)}
            onChange={(event) => set('until', event.target.value)}
          />
        </label>
        <span className="text-soft">the last day not included</span>
      </Row>
      <Row>
        {value.hours ? (
          <>
            between
            <input
              type="time"
              aria-label="From hour"
              className="field"
              value={value.hours[0]}
              onChange={(event) => set('hours', [event.target.value, value.hours?.[1]])}
            />
            and
            <input
              type="time"
              aria-label="Until hour"
              className="field"
              value={value.hours[1]}
              onChange={(event) => set('hours', [value.hours?.[0], event.target.value])}
            />
            <button className="text-soft hover:text-ink" onClick={() => set('hours', undefined)}>
              at any hour
            </button>
          </>
        ) : (
          <button className="text-soft hover:text-ink" onClick={() => set('hours', ['09:00', '17:00'])}>
            between some hours
          </button>
        )}
        <label className="inline-flex items-center gap-1.5">
          by the clock of{' '}
          <TextField label="Zone" width="w-36" value={value.zone ?? ''} placeholder="the visitor" onChange={(zone) => set('zone', zone)} />
        </label>
        <span className="text-soft">empty for each visitor’s own, or a zone such as Europe/Vienna</span>
      </Row>
    </div>
  );
}
