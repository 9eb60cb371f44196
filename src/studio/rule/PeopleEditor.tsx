'use client';

import { CHANNELS, DEVICE_CATEGORIES } from '@/core/history/visitor';
import type { PeopleCondition } from '@/core/people/condition';
import { conditionWords } from '@/core/people/condition';
import type { Expr } from '@/core/rules/expr';
import { ExprEditor } from './ExprEditor';
import type { KindOffer } from './ExprEditor';
import { Choice, NumberField, RangeField, Row, WithinField } from './fields';
import { PatternList } from './PatternList';
import { useRecorded } from './recorded';
import { useNames } from './useNames';

const OFFERS: readonly KindOffer<PeopleCondition>[] = [
  { label: 'Viewed pages', make: () => ({ kind: 'viewed', pages: [{ op: 'like', value: '/' }], times: { min: 1 } }) },
  { label: 'Read pages down to', make: () => ({ kind: 'read', pages: [{ op: 'like', value: '/' }], scroll: 50 }) },
  { label: 'Number of visits', make: () => ({ kind: 'visits', times: { min: 2 } }) },
  { label: 'Did an event', make: () => ({ kind: 'did', event: 'booking', times: { min: 1 } }) },
  { label: 'Known or not', make: () => ({ kind: 'known', is: true }) },
  { label: 'Came from', make: () => ({ kind: 'source', of: 'visit', channel: ['email'] }) },
  { label: 'Uses a device', make: () => ({ kind: 'device', category: ['phone'] }) },
  { label: 'Is in a segment', make: () => ({ kind: 'segment', id: '' }) },
];

/** `unset` says what "within" means where a condition does not name it. */
export function PeopleEditor({
  value,
  onChange,
  unset,
  self,
}: {
  value: Expr<PeopleCondition>;
  onChange: (value: Expr<PeopleCondition>) => void;
  unset: string;
  self?: string;
}) {
  return (
    <ExprEditor<PeopleCondition>
      label="People"
      value={value}
      onChange={onChange}
      offers={OFFERS}
      joins={{ all: 'all of these', any: 'any of these', none: 'none of these' }}
      colour="var(--people)"
      renderLeaf={(leaf, change) => <Condition value={leaf} onChange={change} unset={unset} self={self} />}
    />
  );
}

function Condition({
  value,
  onChange,
  unset,
  self,
}: {
  value: PeopleCondition;
  onChange: (value: PeopleCondition) => void;
  unset: string;
  self: string | undefined;
}) {
  const { segments } = useRecorded();
  const names = useNames();
  switch (value.kind) {
    case 'viewed':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>viewed</b>
            <HowOften value={value} unset={unset} onChange={onChange} />
          </Row>
          <PatternList label="Page" value={value.pages ?? []} empty="any page" onChange={(pages) => onChange({ ...value, pages })} />
        </div>
      );
    case 'read':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>read down to</b>
            <NumberField label="Percent" value={value.scroll} min={1} max={100} onChange={(scroll) => onChange({ ...value, scroll })} /> %
            <HowOften value={value} unset={unset} onChange={onChange} />
          </Row>
          <PatternList label="Page" value={value.pages ?? []} empty="any page" onChange={(pages) => onChange({ ...value, pages })} />
        </div>
      );
    case 'visits':
      return (
        <Row>
          <b>made</b>
          <RangeField label="Visits" value={value.times} least={0} most={1000} onChange={(times) => onChange({ ...value, times })} /> visits
          <WithinField value={value.within} unset={unset} onChange={(within) => onChange({ ...value, within })} />
        </Row>
      );
    case 'did':
      return (
        <Row>
          <b>did</b>
          <input
            aria-label="Event"
            className="field w-44 font-mono text-[13px]"
            value={value.event}
            onChange={(event) => onChange({ ...value, event: event.target.value })}
          />
          <HowOften value={value} unset={unset} onChange={onChange} />
        </Row>
      );
    case 'known':
      return (
        <Row>
          <Choice
            label="Known"
            value={value.is ? 'yes' : 'no'}
            options={[
              ['yes', 'are known'],
              ['no', 'are not known yet'],
            ]}
            onChange={(next) => onChange({ kind: 'known', is: next === 'yes' })}
          />
          <span className="text-soft">an email or a customer id is on record</span>
        </Row>
      );
    case 'source':
      return (
        <div className="grid gap-1.5">
          <Row>
            <Choice
              label="Which visit"
              value={value.of ?? 'visit'}
              options={[
                ['visit', 'came now'],
                ['first', 'first came'],
                ['ever', 'ever came'],
              ]}
              onChange={(of) => onChange({ ...value, of })}
            />
            from{' '}
            <Ticks
              label="Channel"
              options={CHANNELS}
              value={value.channel ?? []}
              onChange={(channel) => onChange(withList(value, 'channel', channel))}
            />
          </Row>
        </div>
      );
    case 'device':
      return (
        <Row>
          <b>use</b>
          <Ticks
            label="Device"
            options={DEVICE_CATEGORIES}
            value={value.category ?? []}
            onChange={(category) => onChange(withList(value, 'category', category))}
          />
        </Row>
      );
    case 'segment':
      return (
        <Row>
          <b>are in</b>
          <Choice
            label="Segment"
            value={value.id}
            options={[
              ['', 'choose a segment'],
              ...segments.filter(({ id }) => id !== self).map(({ id, name }) => [id, name] as const),
              ...(value.id && !segments.some(({ id }) => id === value.id) ? [[value.id, `${value.id} (deleted)`] as const] : []),
            ]}
            onChange={(id) => onChange({ kind: 'segment', id })}
          />
        </Row>
      );
    default:
      return <p className="py-1">{conditionWords(value, names)}</p>;
  }
}

type Counted = Extract<PeopleCondition, { kind: 'viewed' | 'read' | 'did' }>;

/** How many times, and how far back: what all conditions that count have in common. */
function HowOften<C extends Counted>({ value, unset, onChange }: { value: C; unset: string; onChange: (value: C) => void }) {
  return (
    <>
      <RangeField
        label="Times"
        value={value.times ?? { min: 1 }}
        least={0}
        most={1000}
        allowNever
        onChange={(times) => onChange({ ...value, times })}
      />
      {value.times?.max === 0 ? '' : 'times'}
      <WithinField value={value.within} unset={unset} onChange={(within) => onChange({ ...value, within })} />
    </>
  );
}

/** An empty list would match nobody: taking the last tick away drops the part instead. */
function withList<C extends PeopleCondition, K extends keyof C>(condition: C, key: K, list: readonly string[]): C {
  const { [key]: _dropped, ...rest } = condition;
  return (list.length ? { ...rest, [key]: list } : rest) as C;
}

function Ticks<T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: readonly T[];
  value: readonly T[];
  onChange: (value: T[]) => void;
}) {
  return (
    <span role="group" aria-label={label} className="inline-flex flex-wrap gap-x-3 gap-y-1">
      {options.map((option) => (
        <label key={option} className="inline-flex items-center gap-1.5">
          <input
            type="checkbox"
            className="h-4 w-4 accent-(--people)"
            checked={value.includes(option)}
            onChange={(event) => onChange(event.target.checked ? [...value, option] : value.filter((one) => one !== option))}
          />
          {option}
        </label>
      ))}
    </span>
  );
}
