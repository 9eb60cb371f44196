'use client';

import type { Moment } from '@/core/moments/moment';
import { momentKindOf, momentKinds } from '@/core/moments/moment';
import type { Expr } from '@/core/logic/expr';
import { DescribedFields } from './DescribedFields';
import { ExprEditor } from './ExprEditor';

/** What is most often meant comes first. */
const OFFERS = [...momentKinds()]
  .sort((a, b) => Number(a.kind === 'open') - Number(b.kind === 'open') || Number(b.kind === 'exit') - Number(a.kind === 'exit'))
  .map(({ editor: { label, make } }) => ({ label, make }));

export function MomentEditor({ value, onChange }: { value: Expr<Moment>; onChange: (value: Expr<Moment>) => void }) {
  return (
    <ExprEditor<Moment>
      label="Moment"
      value={value}
      onChange={onChange}
      offers={OFFERS}
      joins={{ all: 'all of these', any: 'any of these', none: 'none of these' }}
      colour="var(--moment)"
      renderLeaf={(leaf, change) => (
        <DescribedFields rows={momentKindOf(leaf).editor.rows} value={leaf} onChange={(next) => change(next as unknown as Moment)} />
      )}
    />
  );
}
