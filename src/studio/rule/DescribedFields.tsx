'use client';

import type { ReactNode } from 'react';
import type { Range } from '@/core/logic/range';
import type { ValueTest } from '@/core/logic/valueTest';
import type { PagePattern } from '@/core/pages/pattern';
import type { Calendar } from '@/core/people/kinds/calendar';
import type { Where } from '@/core/people/kinds/did';
import type { LocationCondition } from '@/core/people/kinds/location';
import type { SourceCondition } from '@/core/people/kinds/source';
import type { Within } from '@/core/people/subject';
import type { Field } from '@/core/typing/editor';
import { PickOnSite } from '../tryout/PickOnSite';
import { CalendarField } from './CalendarField';
import { Choice, NumberField, RangeField, Row, WithinField } from './fields';
import { LocationField } from './LocationField';
import { PatternList } from './PatternList';
import { useRecorded } from './recorded';
import { SourceTests } from './SourceTests';
import { ListField, TestField, TextField, YesNo } from './TestField';
import { Ticks } from './Ticks';
import { WhereList } from './WhereList';

type Condition = Readonly<Record<string, unknown>> & { readonly kind: string };
type FieldOf<F extends Field<Condition>['field']> = Extract<Field<Condition>, { field: F }>;

interface Drawn<F> {
  readonly field: F;
  readonly value: Condition;
  /** Puts a part in; undefined takes it out. */
  readonly set: (key: string, part: unknown) => void;
  readonly onChange: (value: Condition) => void;
  /** What "within" means where a condition does not name it. */
  readonly unset: string;
  /** The segment under way, which cannot ask for itself. */
  readonly self: string | undefined;
}

/** The fields of a condition as its kind describes them. */
export function DescribedFields({
  rows,
  value,
  onChange,
  unset = '',
  self,
}: {
  rows: readonly (readonly Field<Condition>[])[];
  value: Condition;
  onChange: (value: Condition) => void;
  unset?: string;
  self?: string | undefined;
}) {
  const set = (key: string, part: unknown): void => {
    const { [key]: _old, ...rest } = value;
    onChange((part === undefined ? rest : { ...value, [key]: part }) as Condition);
  };
  return (
    <div className="grid gap-1.5">
      {rows.map((fields, row) => (
        <Row key={row}>
          {fields.map((field, nth) => {
            const Draw = DRAW[field.field] as (drawn: Drawn<Field<Condition>>) => ReactNode;
            return <Draw key={nth} field={field} value={value} set={set} onChange={onChange} unset={unset} self={self} />;
          })}
        </Row>
      ))}
    </div>
  );
}

const DRAW: { readonly [F in Field<Condition>['field']]: (drawn: Drawn<FieldOf<F>>) => ReactNode } = {
  words: ({ field }) => <b>{field.text}</b>,
  note: ({ field }) => <span className="text-soft">{field.text}</span>,
  range: ({ field, value, set }) => {
    const range = (value[field.key] as Range | undefined) ?? field.otherwise;
    if (!range)
      return (
        <button className="text-soft hover:text-ink" onClick={() => set(field.key, field.optional?.start)}>
          {field.optional?.words}
        </button>
      );
    const isNever = field.allowNever === true && range.min === undefined && range.max === 0;
    return (
      <>
        <RangeField
          label={field.label}
          value={range}
          least={field.least}
          most={field.most}
          allowNever={field.allowNever === true}
          onChange={(next) => set(field.key, next)}
        />
        {isNever ? '' : ` ${field.unit ?? ''}`}
        {field.optional && (
          <button className="text-soft hover:text-ink" onClick={() => set(field.key, undefined)}>
            at any
          </button>
        )}
      </>
    );
  },
  number: ({ field, value, set }) => (
    <>
      <NumberField
        label={field.label}
        value={(value[field.key] as number | undefined) ?? field.otherwise ?? field.least}
        min={field.least}
        max={field.most}
        onChange={(next) => set(field.key, field.isWhole ? Math.round(next) : next)}
      />{' '}
      {field.unit}
    </>
  ),
  within: ({ value, set, unset }) => (
    <WithinField value={value['within'] as Within} unset={unset} onChange={(within) => set('within', within)} />
  ),
  pages: ({ value, set }) => (
    <div className="w-full">
      <PatternList
        label="Page"
        value={(value['pages'] as PagePattern[] | undefined) ?? []}
        empty="any page"
        onChange={(pages) => set('pages', pages)}
      />
    </div>
  ),
  where: ({ value, set }) => (
    <WhereList value={(value['where'] as Where | undefined) ?? []} onChange={(where) => set('where', where.length ? where : undefined)} />
  ),
  text: ({ field, value, set }) => (
    <>
      <TextField
        label={field.label}
        value={value[field.key] as string}
        onChange={(next) => set(field.key, next)}
        {...(field.width ? { width: field.width } : {})}
        {...(field.list ? { list: field.list } : {})}
      />
      {field.isElement && <PickOnSite wants="element" onPick={({ selector }) => set(field.key, selector)} />}
    </>
  ),
  list: ({ field, value, set }) => (
    <ListField
      label={field.label}
      value={(value[field.key] as string[] | undefined) ?? []}
      onChange={(next) => set(field.key, next)}
      {...(field.width ? { width: field.width } : {})}
      {...(field.list ? { list: field.list } : {})}
    />
  ),
  test: ({ field, value, set }) => (
    <TestField
      label={field.label}
      value={value['test'] as ValueTest}
      numbers={field.numbers === true}
      onChange={(test) => set('test', test)}
    />
  ),
  choice: ({ field, value, set }) => (
    <Choice
      label={field.label}
      value={(value[field.key] as string | undefined) ?? field.otherwise ?? ''}
      options={field.options}
      onChange={(next) => set(field.key, next)}
    />
  ),
  named: ({ field, value, set, self }) => <NamedChoice field={field} chosen={value[field.key] as string} set={set} self={self} />,
  ticks: ({ field, value, set }) => (
    <Ticks
      label={field.label}
      options={field.options}
      value={(value[field.key] as string[] | undefined) ?? []}
      // An empty list would match nobody: taking the last tick away drops the part instead.
      onChange={(list) => set(field.key, list.length ? list : undefined)}
    />
  ),
  yesNo: ({ field, value, set }) => (
    <YesNo label={field.label} value={value['is'] === true} yes={field.yes} no={field.no} onChange={(is) => set('is', is)} />
  ),
  own: ({ field, value, onChange }) => {
    const change = (next: object): void => onChange(next as Condition);
    if (field.part === 'location') return <LocationField value={value as unknown as LocationCondition} onChange={change} />;
    if (field.part === 'calendar') return <CalendarField value={value as unknown as Calendar} onChange={change} />;
    return <SourceTests value={value as unknown as SourceCondition} onChange={change} />;
  },
};

/** Something of the site's by its name; what was deleted since keeps its id. */
function NamedChoice({
  field: { key, label, from, none },
  chosen,
  set,
  self,
}: {
  field: FieldOf<'named'>;
  chosen: string;
  set: (key: string, part: unknown) => void;
  self: string | undefined;
}) {
  const named = useRecorded()[from].filter(({ id }) => id !== self);
  return (
    <Choice
      label={label}
      value={chosen}
      options={[
        ['', none],
        ...named.map(({ id, name }) => [id, name] as const),
        ...(chosen && !named.some(({ id }) => id === chosen) ? [[chosen, `${chosen} (deleted)`] as const] : []),
      ]}
      onChange={(id) => set(key, id)}
    />
  );
}
