'use client';

import type { TextTest, ValueTest } from '@/core/logic/valueTest';
import { Choice, RangeField } from './fields';
import { OfferedField } from './OfferedField';
import type { RecordedList } from './recorded';
import { listId, useRecorded } from './recorded';

type Op = ValueTest['op'];

const TEXT_OPS = [
  ['is', 'is'],
  ['oneOf', 'is one of'],
  ['contains', 'contains'],
  ['starts', 'begins with'],
  ['ends', 'ends with'],
  ['exists', 'is set'],
] as const satisfies readonly (readonly [TextTest['op'], string])[];
const VALUE_OPS = [...TEXT_OPS, ['range', 'is a number'], ['daysAgo', 'is a date, days ago']] as const satisfies readonly (readonly [
  Op,
  string,
])[];

/** A test of a text; with `numbers` also of a number or a date. `list` offers what was recorded. */
export function TestField({
  label,
  value,
  onChange,
  numbers = false,
  list,
}: {
  label: string;
  value: ValueTest;
  onChange: (value: ValueTest) => void;
  numbers?: boolean;
  list?: RecordedList;
}) {
  const setOp = (op: Op): void => {
    const text = 'value' in value ? [value.value].flat().join(', ') : '';
    if (op === 'exists') onChange({ op });
    else if (op === 'oneOf') onChange({ op, value: listOf(text) });
    else if (op === 'range' || op === 'daysAgo') onChange({ op, min: 1 });
    else onChange({ op, value: text });
  };
  return (
    <span className="inline-flex flex-wrap items-center gap-1.5">
      <Choice label={`${label}, how`} value={value.op} options={numbers ? VALUE_OPS : TEXT_OPS} onChange={setOp} />
      {(value.op === 'range' || value.op === 'daysAgo') && (
        <RangeField
          label={label}
          value={value}
          least={-1_000_000_000}
          most={1_000_000_000}
          onChange={(range) => onChange({ op: value.op, ...range })}
        />
      )}
      {value.op === 'oneOf' && <ListField label={label} value={value.value} onChange={(next) => onChange({ op: 'oneOf', value: next })} />}
      {(value.op === 'is' || value.op === 'contains' || value.op === 'starts' || value.op === 'ends') && (
        <TextField
          label={label}
          value={value.value}
          onChange={(text) => onChange({ op: value.op, value: text })}
          {...(list ? { list } : {})}
        />
      )}
    </span>
  );
}

export function TextField({
  label,
  value,
  onChange,
  list,
  width = 'w-44',
  placeholder,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  list?: RecordedList;
  width?: string;
  placeholder?: string;
}) {
  const recorded = useRecorded();
  const offers = (list && recorded[list]) ?? NONE;
  const className = `field ${width} font-mono text-[13px]`;
  return offers.length > 0 ? (
    <OfferedField label={label} value={value} offers={offers} className={className} placeholder={placeholder} onChange={onChange} />
  ) : (
    <input
      aria-label={label}
      className={className}
      value={value}
      maxLength={500}
      placeholder={placeholder}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

const NONE: readonly { readonly value: string; readonly times: number }[] = [];
const listOf = (text: string): string[] => text.split(',').map((one) => one.trim());

/** Several values, separated by commas; at least one is always there, be it empty. */
export function ListField({
  label,
  value,
  onChange,
  list,
  width = 'w-60',
}: {
  label: string;
  value: readonly string[];
  onChange: (value: string[]) => void;
  list?: RecordedList;
  width?: string;
}) {
  return (
    <input
      aria-label={label}
      className={`field ${width} font-mono text-[13px]`}
      value={value.join(', ')}
      maxLength={500}
      placeholder="one, two"
      list={list && listId(list)}
      onChange={(event) => onChange(listOf(event.target.value))}
    />
  );
}

export function YesNo({
  label,
  value,
  yes,
  no,
  onChange,
}: {
  label: string;
  value: boolean;
  yes: string;
  no: string;
  onChange: (is: boolean) => void;
}) {
  return (
    <Choice
      label={label}
      value={value ? 'yes' : 'no'}
      options={[
        ['yes', yes],
        ['no', no],
      ]}
      onChange={(next) => onChange(next === 'yes')}
    />
  );
}
