'use client';

import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import type { PeopleCondition } from '@/core/people/condition';
import { kindOf, peopleKinds } from '@/core/people/condition';
import { TOPICS } from '@/core/people/kind';
import type { Expr } from '@/core/logic/expr';
import { DescribedFields } from './DescribedFields';
import { ExprEditor } from './ExprEditor';
import { OpenedOut } from './OpenedOut';

const TOPIC_ORDER = Object.keys(TOPICS);
const OFFERS = peopleKinds()
  .filter(({ isSupplied }) => isSupplied)
  .map(({ topic, editor: { label, make } }) => ({ topic, under: TOPICS[topic], label, make }))
  .sort((a, b) => TOPIC_ORDER.indexOf(a.topic) - TOPIC_ORDER.indexOf(b.topic));
const PEOPLE = ['people'];

/** `lookback` is what "within" means where a condition does not name it, in days; `self` the campaign or segment that is edited. */
export function PeopleEditor({
  value,
  onChange,
  lookback,
  self,
}: {
  value: Expr<PeopleCondition>;
  onChange: (value: Expr<PeopleCondition>) => void;
  lookback: number;
  self: string;
}) {
  const unset = lookback === LONGEST_LOOKBACK_DAYS ? `ever (${lookback} days)` : `in the last ${lookback} days`;
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
        <>
          <DescribedFields
            rows={kindOf(leaf).editor.rows}
            value={leaf}
            onChange={(next) => change(next as unknown as PeopleCondition)}
            unset={unset}
            self={self}
          />
          {leaf.kind === 'segment' && leaf.id !== '' && (
            <OpenedOut key={leaf.id} id={leaf.id} lookback={lookback} self={self} onOpen={change} />
          )}
        </>
      )}
    />
  );
}
