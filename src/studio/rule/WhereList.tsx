'use client';

import { Plus, X } from 'lucide-react';
import type { Where } from '@/core/people/kinds/did';
import { Row } from './fields';
import { TestField, TextField } from './TestField';

/** What must hold of an event's properties, all of it. */
export function WhereList({ value, onChange }: { value: Where; onChange: (value: Where) => void }) {
  const change = (index: number, next: Where[number]): void => onChange(value.map((one, at) => (at === index ? next : one)));
  return (
    <div className="grid gap-1.5 pl-4" role="group" aria-label="Properties">
      {value.map((one, index) => (
        <Row key={index}>
          <span className="text-soft">with</span>
          <TextField label={`Property ${index + 1}`} width="w-28" value={one.key} onChange={(key) => change(index, { ...one, key })} />
          <TestField label={`Property ${index + 1}, value`} numbers value={one.test} onChange={(test) => change(index, { ...one, test })} />
          <button
            className="p-1 text-soft hover:text-danger"
            aria-label={`Remove property ${index + 1}`}
            onClick={() => onChange(value.filter((_, at) => at !== index))}
          >
            <X size={15} aria-hidden="true" />
          </button>
        </Row>
      ))}
      <button
        className="inline-flex items-center gap-1 justify-self-start text-soft hover:text-ink"
        onClick={() => onChange([...value, { key: '', test: { op: 'exists' } }])}
      >
        <Plus size={14} aria-hidden="true" /> {value.length ? 'and another property' : 'with a property'}
      </button>
    </div>
  );
}
