'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ToldChange } from '@/core/release/words';
import { call } from '../parts/net/call';
import { Phrase } from '../messages/Phrase';
import { Ago } from '../parts/layout/Ago';
import { Empty } from '../parts/layout/Empty';
import { TellChanges } from './TellChanges';

export interface ToldRelease {
  readonly number: number;
  readonly name: string;
  readonly note: string;
  /** UTC ms. */
  readonly at: number;
  readonly by: string | null;
  readonly campaigns: number;
  readonly backTo: number | null;
  readonly isComparable: boolean;
  /** Against the one before; undefined where nobody can say. */
  readonly changes: readonly ToldChange[] | undefined;
}

/** All releases, newest first, as what each changed; any of them can become the next one, or be compared with any other. */
export function ReleaseList({
  releases,
  compared,
}: {
  releases: readonly ToldRelease[];
  compared: { of: number; against: number; changes: readonly ToldChange[] } | undefined;
}) {
  const router = useRouter();
  if (releases.length === 0)
    return (
      <Empty title="Nothing is published yet">
        Switch a campaign on, then publish the first release from the top line. Every release is kept, and each can become the next one.
      </Empty>
    );
  const newest = releases[0]?.number;
  return (
    <div className="grid gap-4">
      {compared && (
        <section aria-label="Compared" className="sheet p-4">
          <h2 className="mb-2 flex flex-wrap items-baseline gap-3 text-lg font-bold">
            Release {compared.of} against {compared.against}
            <Link className="font-sans text-sm font-normal underline" href="/setup/releases">
              Close
            </Link>
          </h2>
          {compared.changes.length === 0 ? <p className="text-soft">The two are the same.</p> : <TellChanges changes={compared.changes} />}
        </section>
      )}
      <ol className="sheet">
        {releases.map(({ number, name, note, at, by, campaigns, isComparable, changes }) => (
          <li
            key={number}
            className="grid grid-cols-[2rem_minmax(0,1fr)] gap-3 md:grid-cols-[3rem_minmax(0,1fr)_auto] border-b border-line p-4 last:border-0"
          >
            <b className="font-display text-2xl">{number}</b>
            <div className="grid gap-1">
              <p>
                <b className="text-base">{name}</b>{' '}
                <span className="text-soft">
                  {number === newest && 'live · '}
                  {campaigns === 1 ? '1 campaign' : `${campaigns} campaigns`} · <Ago at={at} />
                  {by && ` by ${by}`}
                </span>
              </p>
              {note && <p className="text-soft">{note}</p>}
              {changes === undefined ? (
                <p className="text-soft">What it changed is not on record.</p>
              ) : changes.length === 0 ? (
                <p className="text-soft">It changed nothing but what segments, page sets or places are.</p>
              ) : (
                <TellChanges changes={changes} />
              )}
            </div>
            <div className="col-start-2 flex flex-wrap items-start gap-3 md:col-start-3 md:justify-end">
              {isComparable && releases.some((one) => one.isComparable && one.number !== number) && (
                <select
                  aria-label={`Compare release ${number} with`}
                  className="field"
                  value=""
                  onChange={({ target }) => router.push(`/setup/releases?with=${number}&against=${target.value}`)}
                >
                  <option value="">Compare with …</option>
                  {releases.map((one) =>
                    one.isComparable && one.number !== number ? <option key={one.number}>{one.number}</option> : null,
                  )}
                </select>
              )}
              {number !== newest && <GoBack number={number} />}
            </div>
          </li>
        ))}
      </ol>
    </div>
  );
}

function GoBack({ number }: { number: number }) {
  const router = useRouter();
  const [note, setNote] = useState('');
  return (
    <Phrase label={`Go back to release ${number}`} words="Go back to this one">
      {(close) => (
        <form
          className="grid w-80 gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            void (async () => {
              const result = await call('POST /api/releases/{number}/back', { params: { number }, body: { note } });
              if (!result.ok) return void toast.error(result.message);
              toast.success(`Release ${result.value.number} is live: what ${number} was`);
              close();
              router.refresh();
            })();
          }}
        >
          <p>Pages get what they got from release {number}. What has been written since stays as a draft.</p>
          <label className="grid gap-1">
            Why
            <input className="field" value={note} maxLength={2000} onChange={({ target }) => setNote(target.value)} />
          </label>
          <button className="act w-fit">Go back to release {number}</button>
        </form>
      )}
    </Phrase>
  );
}
