'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Job } from '@/server/db/failedTasks';
import { call } from '../parts/net/call';

export interface Failed {
  readonly job: Job;
  /** What the job does. */
  readonly does: string;
  readonly subject: string;
  readonly name: string;
  readonly words: string;
  readonly times: number;
  /** UTC ms, as is when it is tried again; null: not by itself. */
  readonly at: number;
  readonly nextAt: number | null;
}

const told = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** What could not be done by itself, while all else went on. */
export function FailedTasks({ failed, mayEdit }: { failed: readonly Failed[]; mayEdit: boolean }) {
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  if (failed.length === 0) return null;
  async function act(does: 'again' | 'aside', { job, subject }: Failed): Promise<void> {
    setBusy(true);
    const result = await call('POST /api/failed', { body: { does, job, subject } });
    setBusy(false);
    if (!result.ok) toast.error(result.message);
    else toast.success(does === 'again' ? 'It is tried again within a minute' : 'Put aside: it is not tried again');
    router.refresh();
  }
  return (
    <section className="sheet mb-4" aria-labelledby="failed">
      <h2 id="failed" className="border-b border-line px-4 py-2.5 text-lg font-bold">
        What could not be done
      </h2>
      <ul>
        {failed.map((one) => (
          <li
            key={`${one.job} ${one.subject}`}
            className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-line px-4 py-2.5 last:border-0"
          >
            <div className="min-w-60 flex-1 wrap-anywhere" suppressHydrationWarning>
              <p>
                <b>{one.does}</b>: {one.name}
              </p>
              <p>{one.words}</p>
              <p className="text-soft">
                {one.times === 1 ? 'Tried once' : `Tried ${one.times} times`}, last on {told(one.at)};{' '}
                {one.nextAt === null ? 'it is not tried again by itself' : `again on ${told(one.nextAt)}`}
              </p>
            </div>
            {mayEdit && (
              <p className="flex gap-2">
                {one.nextAt !== null && (
                  <button className="act-quiet" disabled={isBusy} onClick={() => void act('again', one)}>
                    Try it now
                  </button>
                )}
                <button className="act-quiet" disabled={isBusy} onClick={() => void act('aside', one)}>
                  Put it aside
                </button>
              </p>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
