'use client';

import Link from 'next/link';
import type { Goal, SiteGoal } from '@/core/campaigns/campaign';
import { siteGoalWords } from '@/core/campaigns/goals';
import { Choice, NumberField, Row } from '../rule/fields';
import { PatternList } from '../rule/PatternList';
import { useRecorded } from '../rule/recorded';
import { WhereList } from '../rule/WhereList';

/** What a goal begins as when another kind is picked. */
const START: { readonly [K in Goal['kind']]: Extract<Goal, { kind: K }> } = {
  form: { kind: 'form' },
  reply: { kind: 'reply' },
  page: { kind: 'page', pages: [{ op: 'like', value: '/thanks' }], days: 3 },
  event: { kind: 'event', event: 'purchase', days: 3 },
};
const KINDS: readonly (readonly [Goal['kind'], string])[] = [
  ['form', 'the form is sent'],
  ['reply', 'somebody replies'],
  ['page', 'a page is reached'],
  ['event', 'an event happens'],
];

/** What counts as success of a campaign: one of the site's goals, or one of its own. */
export function GoalEditor({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  const { goals = [], sets, events } = useRecorded();
  const named = 'named' in goal ? goals.find(({ id }) => id === goal.named) : undefined;
  const nameOfSet = (id: string): string => sets.find((set) => set.id === id)?.name ?? 'a page set that is gone';
  return (
    <div className="grid gap-2">
      <Row>
        <b>Counts as success:</b>
        <Choice
          label="Goal"
          value={named ? `goal ${named.id}` : goal.kind}
          options={[...goals.map(({ id, name }) => [`goal ${id}`, `“${name}”`] as const), ...KINDS]}
          onChange={(chosen) => {
            const picked = goals.find(({ id }) => chosen === `goal ${id}`);
            onChange(
              picked
                ? { ...picked.goal, named: picked.id }
                : chosen === 'event' && events[0]
                  ? { ...START.event, event: events[0].value }
                  : START[chosen as Goal['kind']],
            );
          }}
        />
        {named ? (
          <span className="text-soft">
            {siteGoalWords(named.goal, nameOfSet)}.{' '}
            <Link className="underline decoration-line underline-offset-4 hover:text-ink" href={`/setup/goals/${named.id}`}>
              It is shared; change it in Setup
            </Link>
          </span>
        ) : (
          <Whereby goal={goal} onChange={onChange} />
        )}
      </Row>
      {!named && <GoalDetails goal={goal} onChange={onChange} />}
    </div>
  );
}

/** The same for a goal of the site, which what visitors do with a message cannot be. */
export function SiteGoalEditor({ goal, onChange }: { goal: SiteGoal; onChange: (goal: SiteGoal) => void }) {
  const change = (next: Goal): void => {
    if (next.kind === 'page' || next.kind === 'event') onChange(next);
  };
  return (
    <div className="grid gap-2">
      <Row>
        <b>Is reached where</b>
        <Choice label="Goal" value={goal.kind} options={KINDS.slice(2)} onChange={(kind) => change(START[kind])} />
        <Whereby goal={goal} onChange={change} />
      </Row>
      <GoalDetails goal={goal} onChange={change} />
    </div>
  );
}

/** Which event, and in how many days. */
function Whereby({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  if (goal.kind !== 'page' && goal.kind !== 'event') return null;
  return (
    <>
      {goal.kind === 'event' && (
        <input
          aria-label="Event"
          className="field w-40 font-mono text-[13px]"
          value={goal.event}
          onChange={(event) => onChange({ ...goal, event: event.target.value })}
        />
      )}
      within <NumberField label="Days" value={goal.days} min={1} max={90} width={52} onChange={(days) => onChange({ ...goal, days })} />{' '}
      days
    </>
  );
}

function GoalDetails({ goal, onChange }: { goal: Goal; onChange: (goal: Goal) => void }) {
  return (
    <>
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
    </>
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
