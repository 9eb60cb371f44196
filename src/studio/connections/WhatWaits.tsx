'use client';

import Link from 'next/link';
import type { WaitingDelivery } from '@/server/db/connections';
import type { KeptSegment, OpenMember } from '@/server/db/keptSegments';

export const clock = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', second: '2-digit' });

export interface WhatWaitsFor {
  /** UTC ms; while it rests nothing is sent. */
  readonly restsUntil: number | undefined;
  readonly deliveries: readonly (Omit<WaitingDelivery, 'nextAt'> & { readonly nextAt: number })[];
  readonly members: readonly (Omit<OpenMember, 'nextAt'> & { readonly nextAt: number })[];
  readonly kept: readonly Pick<KeptSegment, 'id' | 'segment' | 'segmentName' | 'there' | 'waiting' | 'failed' | 'isEnding'>[];
}

const WHAT: Readonly<Record<string, string>> = {
  conversion: 'a conversion',
  conversation: 'a conversation begun',
  release: 'a release',
};
const link = 'font-semibold underline decoration-line underline-offset-4';

/** What waits for a connection and what failed, each with its reason; and the segments whose people it has. */
export function WhatWaits({ restsUntil, deliveries, members, kept, onAgain }: WhatWaitsFor & { onAgain: (delivery?: string) => void }) {
  const isEmpty = deliveries.length === 0 && members.length === 0;
  return (
    <section className="sheet content-start p-5" aria-labelledby="waits">
      {kept.length > 0 && (
        <div className="mb-4">
          <h2 className="font-bold">Segments kept in step</h2>
          <ul>
            {kept.map(({ id, segment, segmentName, there, waiting, failed, isEnding }) => (
              <li key={id}>
                {segmentName === null ? (
                  'a deleted segment'
                ) : (
                  <Link className={link} href={`/segments/${segment}`}>
                    {segmentName}
                  </Link>
                )}
                <span className="text-soft">
                  {' '}
                  {there.toLocaleString('en-GB')} there{waiting > 0 && `, ${waiting.toLocaleString('en-GB')} on their way`}
                  {failed > 0 && `, ${failed.toLocaleString('en-GB')} refused`}
                  {isEnding && ', ending'}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
      <div className="mb-2 flex flex-wrap items-baseline gap-3">
        <h2 id="waits" className="me-auto font-bold">
          What waits, and what failed
        </h2>
        {!isEmpty && (
          <button className="act-quiet" onClick={() => onAgain()}>
            Send all again
          </button>
        )}
      </div>
      {restsUntil !== undefined && <p className="mb-2 text-danger">It did not answer; the next try is at {clock(restsUntil)}.</p>}
      {isEmpty ? (
        <p className="text-soft">Nothing: everything for it has been sent.</p>
      ) : (
        <ul className="grid max-h-96 gap-2 overflow-y-auto">
          {members.map(({ email, segment, wanted, failed, tries, nextAt, reason }) => (
            <li key={`${email} ${segment}`} className="flex flex-wrap items-baseline gap-x-3">
              <b>{email}</b>
              <span>
                {wanted ? 'joins' : 'leaves'} {segment ?? 'a deleted segment'}
              </span>
              <State isFailed={failed} nextAt={nextAt} reason={reason} tries={tries} />
            </li>
          ))}
          {deliveries.map(({ id, what, lead, email, state, tries, nextAt, reason }) => (
            <li key={id} className="flex flex-wrap items-baseline gap-x-3">
              {lead ? (
                <Link className={link} href={`/leads/${lead}`}>
                  {email ?? 'a lead without an email'}
                </Link>
              ) : (
                <b>{what === 'erased' ? `${email ?? 'somebody'}, to be taken out` : (WHAT[what] ?? what)}</b>
              )}
              <State isFailed={state === 'failed'} nextAt={nextAt} reason={reason} tries={tries} />
              <button className="underline decoration-line underline-offset-4" onClick={() => onAgain(id)}>
                send again
              </button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function State({ isFailed, nextAt, reason, tries }: { isFailed: boolean; nextAt: number; reason: string; tries: number }) {
  return (
    <span className={isFailed ? 'text-danger' : 'text-soft'}>
      {isFailed ? 'failed for good' : `waits until ${clock(nextAt)}`}
      {reason && `: ${reason}`} {tries > 0 && `(${tries} ${tries === 1 ? 'try' : 'tries'})`}
    </span>
  );
}
