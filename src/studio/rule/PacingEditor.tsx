'use client';

import type { Pacing } from '@/core/pacing/pacing';
import { Choice, NumberField, Row } from './fields';

export function PacingEditor({ value, onChange }: { value: Pacing; onChange: (value: Pacing) => void }) {
  const again = value.again ?? 'visit';
  const stop = value.stop ?? {};
  const setStop = (key: 'dismissed' | 'shown', count: number | undefined): void => {
    const { [key]: _old, ...rest } = stop;
    onChange({ ...value, stop: count === undefined ? rest : { ...rest, [key]: count } });
  };
  return (
    <div role="group" aria-label="Pacing" className="grid gap-2 border-l-2 border-pacing pl-3">
      <Row>
        <Choice
          label="How often"
          value={typeof again === 'object' ? 'days' : again}
          options={[
            ['visit', 'once a visit'],
            ['days', 'not again for'],
            ['never', 'once ever'],
            ['always', 'on every page view'],
            ['each', 'each time they ask'],
          ]}
          onChange={(next) => onChange({ ...value, again: next === 'days' ? { days: 7 } : next })}
        />
        {typeof again === 'object' && (
          <>
            <NumberField label="Days" value={again.days} min={1} max={540} onChange={(days) => onChange({ ...value, again: { days } })} />{' '}
            days
          </>
        )}
      </Row>
      {(['dismissed', 'shown'] as const).map((key) => (
        <label key={key} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--pacing)"
            checked={stop[key] !== undefined}
            onChange={(event) => setStop(key, event.target.checked ? 2 : undefined)}
          />
          stop after{' '}
          {stop[key] !== undefined && (
            <NumberField
              label={key === 'dismissed' ? 'Dismissals' : 'Showings'}
              value={stop[key]}
              min={1}
              max={100}
              width={52}
              onChange={(count) => setStop(key, count)}
            />
          )}
          {key === 'dismissed' ? 'dismissals' : 'showings'}
        </label>
      ))}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="h-4 w-4 accent-(--pacing)"
          checked={stop.converted ?? true}
          onChange={(event) => onChange({ ...value, stop: { ...stop, converted: event.target.checked } })}
        />
        stop once they have converted
      </label>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="h-4 w-4 accent-(--pacing)"
          checked={value.alone ?? false}
          onChange={(event) => onChange({ ...value, alone: event.target.checked })}
        />
        only if nothing else has shown in the visit
      </label>
    </div>
  );
}
