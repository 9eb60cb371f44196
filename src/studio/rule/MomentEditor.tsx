'use client';

import type { Moment } from '@/core/moments/moment';
import { momentWords } from '@/core/moments/moment';
import type { Expr } from '@/core/rules/expr';
import { ExprEditor } from './ExprEditor';
import type { KindOffer } from './ExprEditor';
import { Choice, NumberField, Row } from './fields';
import { TextField } from './TestField';
import { WhereList } from './WhereList';

const OFFERS: readonly KindOffer<Moment>[] = [
  { label: 'Moves to leave', make: () => ({ kind: 'exit' }) },
  { label: 'After some time', make: () => ({ kind: 'delay', seconds: 20 }) },
  { label: 'After scrolling to', make: () => ({ kind: 'scroll', atLeast: 40 }) },
  { label: 'Begins to scroll', make: () => ({ kind: 'scrollStart' }) },
  { label: 'Does nothing for', make: () => ({ kind: 'idle', seconds: 30 }) },
  { label: 'Comes to an element', make: () => ({ kind: 'reach', selector: '#id' }) },
  { label: 'Has an element in view', make: () => ({ kind: 'visible', selector: '#id', share: 50, seconds: 2 }) },
  { label: 'Clicks an element', make: () => ({ kind: 'click', selector: '#id' }) },
  { label: 'Clicks some times', make: () => ({ kind: 'clicks', atLeast: 3 }) },
  { label: 'Does an event', make: () => ({ kind: 'event', name: 'booking' }) },
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
    case 'reach':
      return (
        <Row>
          <b>{value.kind === 'click' ? 'clicks' : 'comes to'}</b>
          <TextField label="Selector" width="w-60" value={value.selector} onChange={(selector) => onChange({ ...value, selector })} />
        </Row>
      );
    case 'visible':
      return (
        <Row>
          <b>has in view</b>
          <TextField label="Selector" width="w-44" value={value.selector} onChange={(selector) => onChange({ ...value, selector })} />
          at least
          <NumberField
            label="Percent of it"
            value={value.share}
            min={1}
            max={100}
            width={56}
            onChange={(share) => onChange({ ...value, share })}
          />{' '}
          % for
          <NumberField
            label="Seconds"
            value={value.seconds ?? 0}
            min={0}
            max={86_400}
            width={56}
            onChange={(seconds) => onChange({ ...value, seconds })}
          />{' '}
          s
        </Row>
      );
    case 'clicks':
      return (
        <Row>
          <b>clicks</b> at least
          <NumberField
            label="Clicks"
            value={value.atLeast}
            min={1}
            max={1000}
            onChange={(atLeast) => onChange({ ...value, atLeast: Math.round(atLeast) })}
          />{' '}
          times
          <Choice
            label="Of"
            value={value.of ?? 'page'}
            options={[
              ['page', 'on the page'],
              ['visit', 'in the visit'],
            ]}
            onChange={(of) => onChange({ ...value, of })}
          />
        </Row>
      );
    case 'event':
      return (
        <div className="grid gap-1.5">
          <Row>
            <b>does</b>
            <TextField label="Event" value={value.name} list="events" onChange={(name) => onChange({ ...value, name })} />
          </Row>
          <WhereList
            value={value.where ?? []}
            onChange={(where) => {
              const { where: _old, ...rest } = value;
              onChange(where.length ? { ...rest, where } : rest);
            }}
          />
        </div>
      );
    case 'scrollStart':
    case 'open':
      return <p className="py-1 font-semibold">{momentWords(value)}</p>;
    case 'exit':
      return (
        <Row>
          <b>moves to leave</b> <span className="text-soft">the pointer goes out at the top; on touch screens a fast scroll back up</span>
        </Row>
      );
  }
}
