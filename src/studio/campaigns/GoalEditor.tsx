'use client';

import type { Goal } from '@/core/campaigns/campaign';
import { Choice, NumberField, Row } from '../rule/fields';
import { PatternList } from '../rule/PatternList';

/** What counts as success. */
export function GoalEditor({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  const start: { readonly [K in Goal['kind']]: Goal } = {
    form: { kind: 'form' },
    page: { kind: 'page', pages: [{ op: 'like', value: '/book/done' }], days: 3 },
    event: { kind: 'event', event: 'booking', days: 3 },
  };
  return (
    <div className="grid gap-2">
      <Row>
        <b>Counts as success:</b>
        <Choice
          label="Goal"
          value={goal.kind}
          options={[
            ['form', 'the form is sent'],
            ['page', 'a page is reached'],
            ['event', 'an event happens'],
          ]}
          onChange={(kind) => onChange(start[kind])}
        />
        {goal.kind === 'event' && (
          <input
            aria-label="Event"
            className="field w-40 font-mono text-[13px]"
            value={goal.event}
            onChange={(event) => onChange({ ...goal, event: event.target.value })}
          />
        )}
        {goal.kind !== 'form' && (
          <>
            within{' '}
            <NumberField label="Days" value={goal.days} min={1} max={90} width={52} onChange={(days) => onChange({ ...goal, days })} /> days
          </>
        )}
      </Row>
      {goal.kind === 'page' && <PatternList label="Goal page" value={goal.pages} onChange={(pages) => onChange({ ...goal, pages })} />}
    </div>
  );
}
