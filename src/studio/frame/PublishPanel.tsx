'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { Blocker, Change } from '@/server/releases/publish';
import { call } from '../parts/net/call';
import { SidePanel } from '../parts/layout/SidePanel';

export interface NextReleaseView {
  readonly number: number;
  readonly print: string;
  readonly changes: readonly Change[];
  readonly blockers: readonly Blocker[];
  readonly warnings: readonly Blocker[];
}

/** Others go on while somebody looks at what would go out. */
const LOOK_MS = 4000;

const VERBS = {
  added: 'goes live',
  changed: 'is changed',
  removed: 'is taken off',
  order: 'is changed',
  budget: 'is changed',
  brand: 'is changed',
} as const;

/** What is said below: what somebody is asked once more, or what has become of a release of which no answer came. */
function after({ unsure, isOut, doubtful }: { unsure: number | undefined; isOut: boolean; doubtful: number }): string {
  if (isOut) return `Release ${unsure} is live: it went out, although no answer came.`;
  if (unsure !== undefined)
    return `No answer came. Whether release ${unsure} went out is looked up every few seconds; it is not tried again by itself.`;
  if (doubtful > 0)
    return `${doubtful === 1 ? 'One thing' : `${doubtful} things`} above may not be meant so. Mend what is not, or publish it all the same.`;
  return 'Visitors get it with their next page.';
}

export function PublishPanel({ next, isOpen, onClose }: { next: NextReleaseView; isOpen: boolean; onClose: () => void }) {
  const router = useRouter();
  const [name, setName] = useState('');
  const [note, setNote] = useState('');
  const [error, setError] = useState<string>();
  const [isBusy, setBusy] = useState(false);
  /** What the warnings were seen of: asked about once, and again when something else would go out. */
  const [seen, setSeen] = useState<string>();
  /** A release of which no answer came: whether it went out shows by the number of the next. */
  const [unsure, setUnsure] = useState<number>();
  const doubtful = next.warnings.filter(({ campaign }) => next.changes.some((change) => change.campaign === campaign));
  const isAsked = doubtful.length > 0 && seen !== next.print;

  const isOut = unsure !== undefined && next.number > unsure;

  useEffect(() => {
    if (!isOpen) return undefined;
    const timer = setInterval(() => router.refresh(), LOOK_MS);
    return () => clearInterval(timer);
  }, [isOpen, router]);

  async function publishNow(): Promise<void> {
    if (isAsked) return setSeen(next.print);
    setBusy(true);
    setUnsure(undefined);
    const result = await call('POST /api/releases', { body: { name, note, seen: next.print } });
    setBusy(false);
    if (!result.ok) {
      setError(result.message);
      if (result.code === 'network') setUnsure(next.number);
      // What somebody else did is shown, to be looked at before it is tried again.
      return router.refresh();
    }
    toast.success(`Release ${result.value.number} is live`);
    setName('');
    setNote('');
    setError(undefined);
    onClose();
    router.refresh();
  }

  return (
    <SidePanel title={`Publish release ${next.number}`} isOpen={isOpen} onClose={onClose}>
      <h3 className="mb-2 font-bold">What changes on the site</h3>
      {next.changes.length === 0 && <p className="mb-5 text-soft">Nothing is changed since release {next.number - 1}.</p>}
      <ul className="mb-5 grid gap-1">
        {next.changes.map(({ campaign, name: campaignName, what, words }) => (
          <li key={campaign || campaignName} className="border-l-2 border-pine pl-3">
            <b>{campaignName}</b> {words.length ? words.join('; ') : VERBS[what]}
          </li>
        ))}
      </ul>
      {next.blockers.length > 0 && (
        <div role="alert" className="mb-5 border-l-2 border-danger pl-3 text-danger">
          {next.blockers.map(({ campaign, name: campaignName, reason }) => (
            <p key={campaign + reason}>
              <b>{campaignName}</b> cannot go out: {reason}.
            </p>
          ))}
        </div>
      )}
      {next.warnings.length > 0 && (
        <div className="mb-5 grid gap-1 border-l-2 border-moment pl-3" role="status">
          {next.warnings.map(({ campaign, name: campaignName, reason }) => (
            <p key={campaign + reason}>
              <Link className="font-bold underline" href={`/campaigns/${campaign}`} onClick={onClose}>
                {campaignName}
              </Link>{' '}
              {reason}
            </p>
          ))}
        </div>
      )}
      <label className="mb-3 grid gap-1 font-semibold">
        Name
        <input
          className="field font-normal"
          value={name}
          maxLength={200}
          placeholder={`Release ${next.number}`}
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <label className="mb-3 grid gap-1 font-semibold">
        Note
        <textarea className="field font-normal" rows={3} maxLength={2000} value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      <p role="alert" className="mb-3 text-danger">
        {isOut ? '' : error}
      </p>
      <button className="act" disabled={isBusy || next.blockers.length > 0 || next.changes.length === 0} onClick={() => void publishNow()}>
        {isBusy ? 'Publishing' : doubtful.length > 0 && !isAsked ? 'Publish it all the same' : `Publish release ${next.number}`}
      </button>
      <p role="status" className="mt-3 text-soft">
        {after({ unsure, isOut, doubtful: isBusy || isAsked ? 0 : doubtful.length })}
      </p>
    </SidePanel>
  );
}
