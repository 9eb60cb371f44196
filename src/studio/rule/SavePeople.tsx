'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import type { Expr } from '@/core/logic/expr';
import type { PeopleCondition } from '@/core/people/condition';
import { proposedName } from '@/core/rules/describe';
import { call } from '../parts/net/call';
import { unusedName } from '../parts/saving/unusedName';
import { useRecorded } from './recorded';
import { useNames } from './useNames';

/** Makes a segment of a rule's people: the same people under a name, which other rules can ask for. */
export function SavePeople({ people, onSaved }: { people: Expr<PeopleCondition>; onSaved: (segment: PeopleCondition) => void }) {
  const names = useNames();
  const { segments, addSegment } = useRecorded();
  const [isBusy, setBusy] = useState(false);
  async function save(): Promise<void> {
    setBusy(true);
    const document = { lookback: LONGEST_LOOKBACK_DAYS, people };
    const name = unusedName(
      proposedName(document, names),
      segments.map((one) => one.name),
    );
    const result = await call('POST /api/segments', { body: { name, ...document } });
    setBusy(false);
    if (!result.ok) return void toast.error(result.message);
    const { id } = result.value;
    addSegment({ id, name });
    onSaved({ kind: 'segment', id });
    toast.success(
      <span>
        These people are the segment{' '}
        <Link className="underline" href={`/segments/${id}`}>
          {name}
        </Link>{' '}
        now
      </span>,
    );
  }
  return (
    <button className="act-quiet mt-3" disabled={isBusy} onClick={() => void save()}>
      Save these people as a segment
    </button>
  );
}
