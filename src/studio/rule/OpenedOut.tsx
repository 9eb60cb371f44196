'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Expr } from '@/core/logic/expr';
import type { PeopleCondition } from '@/core/people/condition';
import { openOut } from '@/core/people/writeOut';
import { LOOKBACK, describeSegment, sentenceOf } from '@/core/rules/describe';
import type { SegmentDocument } from '@/core/rules/schema';
import type { User } from '@/server/segments/users';
import { call } from '../parts/net/call';
import { useNames } from './useNames';

interface Fetched extends SegmentDocument {
  readonly name: string;
  readonly users: readonly User[];
}

/** Under a segment that a rule asks for: what it says, and its conditions written in its place, once it is clear who else goes on using it. */
export function OpenedOut({
  id,
  lookback,
  self,
  onOpen,
}: {
  id: string;
  /** Of the document that it is opened out into, in days. */
  lookback: number;
  /** The campaign or segment that is edited, which is not "others". */
  self: string;
  onOpen: (people: Expr<PeopleCondition>) => void;
}) {
  const names = useNames();
  const [segment, setSegment] = useState<Fetched>();
  const [isBusy, setBusy] = useState(false);
  async function look(): Promise<void> {
    setBusy(true);
    const result = await call('GET /api/segments/{id}', { params: { id } });
    setBusy(false);
    if (result.ok) setSegment(result.value);
    else toast.error(result.message);
  }
  if (!segment)
    return (
      <button
        className="text-soft underline decoration-dotted underline-offset-4 hover:text-ink"
        disabled={isBusy}
        onClick={() => void look()}
      >
        open it out
      </button>
    );
  const others = segment.users.filter((user) => user.id !== self);
  const says = describeSegment(segment, names).filter(({ path }) => path !== LOOKBACK);
  return (
    <div className="mt-1.5 grid w-full gap-2 border-l-2 border-moment pl-3" role="group" aria-label={`What “${segment.name}” says`}>
      <p>{sentenceOf(says).replace(/, \.$/, '.')}</p>
      <p className="text-soft">
        {others.length > 0 ? (
          <>
            {others.map((user, index) => (
              <span key={user.id}>
                {index > 0 && ', '}
                <Link className="underline" href={`/${user.kind === 'campaign' ? 'campaigns' : 'segments'}/${user.id}`}>
                  {user.name}
                </Link>
              </span>
            ))}{' '}
            {others.length === 1 ? 'uses' : 'use'} the segment too. Written out, its conditions are changed here alone; in{' '}
            <Link className="underline" href={`/segments/${id}`}>
              the segment
            </Link>{' '}
            they are changed for all.
          </>
        ) : (
          'Nothing else uses the segment. It stays in the list.'
        )}
      </p>
      <p className="flex gap-3">
        <button className="act-quiet" onClick={() => onOpen(openOut(segment, lookback))}>
          Write its conditions here
        </button>
        <button className="act-quiet" onClick={() => setSegment(undefined)}>
          Leave it
        </button>
      </p>
    </div>
  );
}
