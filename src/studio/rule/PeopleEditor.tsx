'use client';

import type { PeopleCondition } from '@/core/people/condition';
import { kindOf, peopleKinds } from '@/core/people/condition';
import type { Expr } from '@/core/logic/expr';
import { DescribedFields } from './DescribedFields';
import { ExprEditor } from './ExprEditor';

const OFFERS = peopleKinds()
  .filter(({ isSupplied }) => isSupplied)
  .map(({ editor: { label, make } }) => ({ label, make }));
const PEOPLE = ['people'];

/** `unset` says what "within" means where a condition does not name it. */
export function PeopleEditor({
  value,
  onChange,
  unset,
  self,
}: {
  value: Expr<PeopleCondition>;
  onChange: (value: Expr<PeopleCondition>) => void;
  unset: string;
  self?: string;
}) {
  return (
    <ExprEditor<PeopleCondition>
      label="People"
      path={PEOPLE}
      value={value}
      onChange={onChange}
      offers={OFFERS}
      joins={{ all: 'all of these', any: 'any of these', none: 'none of these' }}
      colour="var(--people)"
      renderLeaf={(leaf, change) => (
        <DescribedFields
          rows={kindOf(leaf).editor.rows}
          value={leaf}
          onChange={(next) => change(next as unknown as PeopleCondition)}
          unset={unset}
          self={self}
        />
      )}
    />
  );
}
