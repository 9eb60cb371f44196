'use client';

import type { Moment } from '@/core/moments/moment';
import { momentWords } from '@/core/moments/moment';
import type { Expr } from '@/core/rules/expr';
import { ExprEditor } from './ExprEditor';
import type { KindOffer } from './ExprEditor';
import { Choice, NumberField, Row } from './fields';

const OFFERS: readonly KindOffer<Moment>[] = [
  { label: 'Moves to leave', make: () => ({ kind: 'exit' }) },
  { label: 'After some time', make: () => ({ kind: 'delay', seconds: 20 }) },
  { label: 'After scrolling to', make: () => ({ kind: 'scroll', atLeast: 40 }) },
  { label: 'Does nothing for', make: () => ({ kind: 'idle', seconds: 30 }) },
  { label: 'Clicks an element', make: () => ({ kind: 'click', selector: '#id' }) },
  { label: 'As the page opens', make: () => ({ kind: 'open' }) },
];

export function MomentEditor({ value, onChange }: { value: Expr<Moment>; onChange: (value: Expr<Moment>) => void }) {
  return (
    <ExprEditor<Moment>
      label="Moment"
      value={value}
      onChange={onChange}
      offers={OFFERS}
      joins={{ all: 'all of these', any: 'any of these', none: 'none of these' }}
      colour="var(--moment)"
      renderLeaf={(leaf, change) => <Leaf value={leaf} onChange={change} />}
    />
  );
}

function Leaf({ value, onChange }: { value: Moment; onChange: (value: Moment) => void }) {
  switch (value.kind) {
    case 'delay':
      return (
        <Row>
          <b>after</b>
          <NumberField
            label="Seconds"
            value={value.seconds}
            min={0}
            max={86_400}
            onChange={(seconds) => onChange({ ...value, seconds })}
          />{' '}
          seconds
          <Choice
            label="Of"
            value={value.of ?? 'page'}
            options={[
              ['page', 'on the page'],
              ['visit', 'in the visit'],
            ]}
            onChange={(of) => onChange({ ...value, of })}
          />
          <Choice
            label="Counting"
            value={value.counting ?? 'open'}
            options={[
              ['open', 'all time'],
              ['engaged', 'engaged time'],
            ]}
            onChange={(counting) => onChange({ ...value, counting })}
          />
        </Row>
      );
    case 'scroll':
      return (
        <Row>
          <b>scrolled to</b>
          <NumberField label="Percent" value={value.atLeast} min={1} max={100} onChange={(atLeast) => onChange({ ...value, atLeast })} /> %
        </Row>
      );
    case 'idle':
      return (
        <Row>
          <b>does nothing for</b>
          <NumberField
            label="Seconds"
            value={value.seconds}
            min={1}
            max={86_400}
            onChange={(seconds) => onChange({ ...value, seconds })}
          />{' '}
          seconds
        </Row>
      );
    case 'click':
      return (
        <Row>
          <b>clicks</b>
          <input
            aria-label="Selector"
            className="field w-60 font-mono text-[13px]"
            value={value.selector}
            onChange={(event) => onChange({ ...value, selector: event.target.value })}
          />
        </Row>
      );
    case 'exit':
      return (
        <Row>
          <b>moves to leave</b> <span className="text-soft">the pointer goes out at the top; on touch screens a fast scroll back up</span>
        </Row>
      );
    default:
      return <p className="py-1 font-semibold">{momentWords(value)}</p>;
  }
}
