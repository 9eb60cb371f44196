'use client';

import { X } from 'lucide-react';
import type { LocationCondition } from '@/core/people/kinds/location';
import { Row } from './fields';
import { useRecorded } from './recorded';
import { ListField } from './TestField';
import { Ticks } from './Ticks';

const PARTS = ['countries', 'regions', 'cities', 'places'] as const;
type Part = (typeof PARTS)[number];
const WORDS: Readonly<Record<Part, string>> = { countries: 'countries', regions: 'regions', cities: 'cities', places: 'drawn places' };

/** Any of some countries, regions, cities or drawn places. */
export function LocationField({ value, onChange }: { value: LocationCondition; onChange: (value: LocationCondition) => void }) {
  const { places } = useRecorded();
  const set = (part: Part, list: string[] | undefined): void => {
    const { [part]: _old, ...rest } = value;
    onChange(list ? { ...rest, [part]: list } : rest);
  };
  const left = PARTS.filter((part) => !value[part] && (part !== 'places' || places.length > 0));
  return (
    <div className="grid gap-1.5">
      {PARTS.flatMap((part, index) => {
        const list = value[part];
        if (!list) return [];
        return [
          <Row key={part}>
            <b>{PARTS.slice(0, index).some((one) => value[one]) ? 'or' : 'is in'}</b>
            <span className="text-soft">{WORDS[part]}</span>
            {part === 'places' ? (
              <Ticks
                label="Places"
                options={places.map(({ id }) => id)}
                words={Object.fromEntries(places.map(({ id, name }) => [id, name]))}
                value={list}
                onChange={(next) => set(part, next)}
              />
            ) : (
              <ListField
                label={WORDS[part]}
                value={list}
                onChange={(next) => set(part, part === 'countries' ? next.map((one) => one.toUpperCase()) : next)}
                {...(part === 'regions' ? {} : { list: part })}
              />
            )}
            <button className="p-1 text-soft hover:text-danger" aria-label={`Remove ${WORDS[part]}`} onClick={() => set(part, undefined)}>
              <X size={15} aria-hidden="true" />
            </button>
          </Row>,
        ];
      })}
      {left.length > 0 && (
        <select
          aria-label="Add to the location"
          className="field justify-self-start text-soft"
          value=""
          onChange={(event) => set(event.target.value as Part, event.target.value === 'places' ? [places[0]?.id ?? ''] : [''])}
        >
          <option value="">or in …</option>
          {left.map((part) => (
            <option key={part} value={part}>
              {WORDS[part]}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}
