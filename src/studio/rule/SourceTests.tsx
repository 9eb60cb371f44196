'use client';

import { X } from 'lucide-react';
import type { SourceCondition } from '@/core/people/kinds/source';
import type { TextTest } from '@/core/logic/valueTest';
import { Row } from './fields';
import { TestField } from './TestField';

const UTM = ['source', 'medium', 'campaign', 'term', 'content'] as const;
type Part = 'referrer' | (typeof UTM)[number];

/** Tests of the referrer and of the parameters that campaigns put into addresses. */
export function SourceTests({ value, onChange }: { value: SourceCondition; onChange: (value: SourceCondition) => void }) {
  const testOf = (part: Part): TextTest | undefined => (part === 'referrer' ? value.referrer : value.utm?.[part]);
  const set = (part: Part, test: TextTest | undefined): void => {
    const { referrer, utm = {}, ...rest } = value;
    if (part === 'referrer') return onChange({ ...rest, ...(test ? { referrer: test } : {}), ...(value.utm ? { utm } : {}) });
    const { [part]: _old, ...others } = utm;
    const next = test ? { ...others, [part]: test } : others;
    onChange({ ...rest, ...(referrer ? { referrer } : {}), ...(Object.keys(next).length ? { utm: next } : {}) });
  };
  const parts: readonly Part[] = ['referrer', ...UTM];
  const left = parts.filter((part) => !testOf(part));
  return (
    <div className="grid gap-1.5 pl-4">
      {parts.flatMap((part) => {
        const test = testOf(part);
        if (!test) return [];
        const name = part === 'referrer' ? 'referrer' : `utm_${part}`;
        return [
          <Row key={part}>
            <span className="font-mono text-[13px]">{name}</span>
            <TestField
              label={name}
              value={test}
              onChange={(next) => set(part, next as TextTest)}
              {...(part === 'source' ? { list: 'sources' as const } : part === 'campaign' ? { list: 'utmCampaigns' as const } : {})}
            />
            <button className="p-1 text-soft hover:text-danger" aria-label={`Remove ${name}`} onClick={() => set(part, undefined)}>
              <X size={15} aria-hidden="true" />
            </button>
          </Row>,
        ];
      })}
      {left.length > 0 && (
        <select
          aria-label="Add a test of the source"
          className="field justify-self-start text-soft"
          value=""
          onChange={(event) => set(event.target.value as Part, { op: 'is', value: '' })}
        >
          <option value="">and with …</option>
          {left.map((part) => (
            <option key={part} value={part}>
              {part === 'referrer' ? 'referrer' : `utm_${part}`}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}
