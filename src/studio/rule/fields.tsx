'use client';

import type { ReactNode } from 'react';
import { useId, useState } from 'react';
import type { Range } from '@/core/logic/range';

export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <select aria-label={label} className="field" value={value} onChange={(event) => onChange(event.target.value as T)}>
      {options.map(([option, words]) => (
        <option key={option} value={option}>
          {words}
        </option>
      ))}
    </select>
  );
}

/** A number that may be half typed: the last good value stays until the text is a number in range again. */
export function NumberField({
  label,
  value,
  min,
  max,
  onChange,
  width = 72,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  onChange: (value: number) => void;
  width?: number;
}) {
  const [text, setText] = useState<string>();
  const shown = text ?? String(value);
  const number = Number(shown);
  const isGood = shown.trim() !== '' && Number.isFinite(number) && number >= min && number <= max;
  const id = useId();
  return (
    <span className="inline-flex flex-col">
      <input
        aria-label={label}
        aria-invalid={!isGood}
        aria-describedby={isGood ? undefined : id}
        className="field"
        style={{ width }}
        inputMode="decimal"
        value={shown}
        onChange={(event) => {
          setText(event.target.value);
          const typed = Number(event.target.value);
          if (event.target.value.trim() !== '' && typed >= min && typed <= max) onChange(typed);
        }}
        onBlur={() => setText(undefined)}
      />
      {!isGood && (
        <span id={id} role="alert" className="text-xs text-danger">
          {label}: expected {min} to {max}
        </span>
      )}
    </span>
  );
}

type RangeShape = 'min' | 'max' | 'exactly' | 'between' | 'never';

export function RangeField({
  label,
  value,
  least = 0,
  most,
  onChange,
  allowNever = false,
}: {
  label: string;
  value: Range;
  least?: number;
  most: number;
  onChange: (value: Range) => void;
  allowNever?: boolean;
}) {
  const shape = shapeOf(value, allowNever);
  const low = value.min ?? value.max ?? least;
  const high = value.max ?? value.min ?? least;
  const change = (next: RangeShape): void => {
    if (next === 'never') onChange({ max: 0 });
    else if (next === 'min') onChange({ min: Math.max(low, allowNever ? 1 : least) });
    else if (next === 'max') onChange({ max: Math.max(high, allowNever ? 1 : least) });
    else if (next === 'exactly') onChange({ min: Math.max(low, allowNever ? 1 : least), max: Math.max(low, allowNever ? 1 : least) });
    else onChange({ min: low, max: Math.max(high, low + 1) });
  };
  const shapes: (readonly [RangeShape, string])[] = [
    ['min', 'at least'],
    ['max', 'at most'],
    ['exactly', 'exactly'],
    ['between', 'between'],
    ...(allowNever ? [['never', 'never'] as const] : []),
  ];
  return (
    <span className="inline-flex flex-wrap items-center gap-1.5">
      <Choice label={`${label}, how`} value={shape} options={shapes} onChange={change} />
      {(shape === 'min' || shape === 'exactly' || shape === 'between') && (
        <NumberField
          label={label}
          value={low}
          min={least}
          max={most}
          onChange={(min) =>
            onChange(shape === 'min' ? { min } : shape === 'exactly' ? { min, max: min } : { min, max: Math.max(min, high) })
          }
        />
      )}
      {shape === 'between' && 'and'}
      {(shape === 'max' || shape === 'between') && (
        <NumberField
          label={`${label}, most`}
          value={high}
          min={least}
          max={most}
          onChange={(max) => onChange(shape === 'max' ? { max } : { min: Math.min(low, max), max })}
        />
      )}
    </span>
  );
}

function shapeOf({ min, max }: Range, allowNever: boolean): RangeShape {
  if (allowNever && min === undefined && max === 0) return 'never';
  if (min === undefined) return 'max';
  if (max === undefined) return 'min';
  return min === max ? 'exactly' : 'between';
}

export function WithinField({
  value,
  onChange,
  unset,
}: {
  value: number | 'visit' | undefined;
  onChange: (value: number | 'visit' | undefined) => void;
  unset: string;
}) {
  const shape = value === undefined ? 'unset' : value === 'visit' ? 'visit' : 'days';
  return (
    <span className="inline-flex items-center gap-1.5">
      <Choice
        label="Looking back"
        value={shape}
        options={[
          ['unset', unset],
          ['days', 'in the last'],
          ['visit', 'in this visit'],
        ]}
        onChange={(next) => onChange(next === 'unset' ? undefined : next === 'visit' ? 'visit' : 30)}
      />
      {typeof value === 'number' && (
        <>
          <NumberField label="Days" value={value} min={1} max={540} onChange={onChange} width={60} /> days
        </>
      )}
    </span>
  );
}

export function Row({ children }: { children: ReactNode }) {
  return <div className="flex flex-wrap items-center gap-1.5">{children}</div>;
}
