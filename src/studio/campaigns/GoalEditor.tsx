'use client';

import type { Goal } from '@/core/campaigns/campaign';
import { Choice, NumberField, Row } from '../rule/fields';
import { PatternList } from '../rule/PatternList';
import { WhereList } from '../rule/WhereList';

/** What counts as success. */
export function GoalEditor({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  const start: { readonly [K in Goal['kind']]: Goal } = {
    form: { kind: 'form' },
    reply: { kind: 'reply' },
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
            ['reply', 'somebody replies'],
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
        {(goal.kind === 'page' || goal.kind === 'event') && (
          <>
            within{' '}
            <NumberField label="Days" value={goal.days} min={1} max={90} width={52} onChange={(days) => onChange({ ...goal, days })} /> days
          </>
        )}
      </Row>
      <Row>
        <Worth goal={goal} onChange={onChange} />
      </Row>
      {goal.kind === 'event' && (
        <WhereList
          value={goal.where ?? []}
          onChange={(where) => {
            const { where: _old, ...rest } = goal;
            onChange(where.length ? { ...rest, where } : rest);
          }}
        />
      )}
      {goal.kind === 'page' && <PatternList label="Goal page" value={goal.pages} onChange={(pages) => onChange({ ...goal, pages })} />}
    </div>
  );
}

/** What one success is worth: nothing said, a sum, or what the event says. */
function Worth({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  const { value, ...rest } = goal;
  const how = value === undefined ? 'none' : typeof value === 'number' ? 'sum' : 'prop';
  const options = [
    ['none', 'is not valued'],
    ['sum', 'is worth'],
    ...(goal.kind === 'event' ? [['prop', 'is worth what the event says in'] as const] : []),
  ] as const;
  const start: Readonly<Record<string, Goal['value']>> = { none: undefined, sum: 10, prop: { prop: 'value' } };
  const set = (next: Goal['value']): void => onChange((next === undefined ? rest : { ...rest, value: next }) as Goal);
  return (
    <>
      each <Choice label="Worth" value={how} options={options} onChange={(next) => set(start[next])} />
      {typeof value === 'number' && <NumberField label="Value" value={value} min={0} max={1e9} width={80} onChange={set} />}
      {typeof value === 'object' && (
        <input
          aria-label="Property"
          className="field w-40 font-mono text-[13px]"
          value={value.prop}
          onChange={({ target }) => target.value && set({ prop: target.value })}
        />
      )}
    </>
  );
}
