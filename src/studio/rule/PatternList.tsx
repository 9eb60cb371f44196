'use client';

import { Plus, X } from 'lucide-react';
import type { PagePattern, PlainPattern } from '@/core/pages/pattern';
import { PickOnSite } from '../tryout/PickOnSite';
import { Choice, Row } from './fields';
import { useRecorded } from './recorded';

const PARTS = [
  ['path', 'path'],
  ['title', 'title'],
  ['label', 'label'],
  ['parameter', 'parameter'],
  ['fragment', 'fragment'],
  ['host', 'host'],
  ['address', 'address'],
] as const;
const OPS = [
  ['like', 'like'],
  ['is', 'is'],
  ['starts', 'starts with'],
  ['contains', 'contains'],
  ['ends', 'ends with'],
] as const;

/** Page patterns, any of which may match. Typing a path offers the pages the site has recorded, with their counts. */
export function PatternList({
  label,
  value,
  onChange,
  empty,
}: {
  label: string;
  value: readonly PagePattern[];
  onChange: (value: PagePattern[]) => void;
  empty?: string;
}) {
  const { sets } = useRecorded();
  const change = (index: number, pattern: PagePattern): void => onChange(value.map((one, at) => (at === index ? pattern : one)));
  return (
    <div className="grid gap-1.5" role="group" aria-label={label}>
      {value.length === 0 && empty && <span className="text-soft">{empty}</span>}
      {value.map((pattern, index) => (
        <Row key={index}>
          {index > 0 && <span className="text-soft">or</span>}
          {'set' in pattern ? (
            <label className="inline-flex items-center gap-1.5">
              page set
              <Choice
                label={`${label} ${index + 1}, set`}
                value={pattern.set}
                options={[
                  ...sets.map(({ id, name }) => [id, name] as const),
                  ...(sets.some(({ id }) => id === pattern.set) ? [] : [[pattern.set, `${pattern.set} (gone)`] as const]),
                ]}
                onChange={(set) => change(index, { set })}
              />
            </label>
          ) : (
            <PatternField label={`${label} ${index + 1}`} value={pattern} onChange={(next) => change(index, next)} />
          )}
          <button
            className="p-1 text-soft hover:text-danger"
            aria-label={`Remove page ${index + 1}`}
            onClick={() => onChange(value.filter((_, at) => at !== index))}
          >
            <X size={15} aria-hidden="true" />
          </button>
        </Row>
      ))}
      <button
        className="inline-flex items-center gap-1 justify-self-start text-soft hover:text-ink"
        onClick={() => onChange([...value, { op: 'like', value: '/' }])}
      >
        <Plus size={14} aria-hidden="true" /> {value.length ? 'or another page' : 'name a page'}
      </button>
      <PickOnSite wants="page" onPick={({ op, value: path }) => onChange([...value, { op, value: path }])} />
      {sets.length > 0 && (
        <button
          className="inline-flex items-center gap-1 justify-self-start text-soft hover:text-ink"
          onClick={() => onChange([...value, { set: sets[0]?.id ?? '' }])}
        >
          <Plus size={14} aria-hidden="true" /> {value.length ? 'or a page set' : 'choose a page set'}
        </button>
      )}
    </div>
  );
}

function PatternField({ label, value, onChange }: { label: string; value: PlainPattern; onChange: (value: PlainPattern) => void }) {
  const part = value.part ?? 'path';
  const { pages } = useRecorded();
  const mayExist = part === 'parameter' || part === 'fragment' || part === 'label';
  const setPart = (next: typeof part): void =>
    onChange({
      ...(next === 'path' ? {} : { part: next }),
      op: next === 'path' ? 'like' : 'contains',
      value: value.value ?? '',
      ...(next === 'parameter' ? { name: value.name ?? 'utm_campaign' } : {}),
    });
  return (
    <>
      <Choice label={`${label}, part`} value={part} options={PARTS} onChange={setPart} />
      {part === 'parameter' && (
        <input
          aria-label={`${label}, name`}
          className="field w-36 font-mono text-[13px]"
          value={value.name ?? ''}
          onChange={(event) => onChange({ ...value, name: event.target.value })}
        />
      )}
      <Choice
        label={`${label}, how`}
        value={value.op}
        options={mayExist ? [...OPS, ['exists', 'is there'] as const] : OPS}
        onChange={(op) => {
          const { value: text, ...rest } = value;
          onChange(op === 'exists' ? { ...rest, op } : { ...rest, op, value: text ?? '' });
        }}
      />
      {value.op !== 'exists' && (
        <input
          aria-label={label}
          className="field w-60 font-mono text-[13px]"
          list={part === 'path' ? 'recorded-pages' : undefined}
          value={value.value ?? ''}
          placeholder={part === 'path' ? '/blog/**' : ''}
          onChange={(event) => onChange({ ...value, value: event.target.value })}
        />
      )}
      {part === 'path' && value.op !== 'exists' && <Matches pattern={value} pages={pages} />}
    </>
  );
}

function Matches({ pattern, pages }: { pattern: PlainPattern; pages: readonly { path: string; views: number }[] }) {
  const { countMatching } = useRecorded();
  if (pages.length === 0) return null;
  const { pages: matching, views } = countMatching(pattern);
  return (
    <span className={`text-xs ${matching === 0 ? 'text-danger' : 'text-soft'}`}>
      {matching === 0
        ? 'matches no recorded page'
        : `${matching === 1 ? '1 page' : `${matching} pages`}, ${views.toLocaleString('en-GB')} views in 30 days`}
    </span>
  );
}
