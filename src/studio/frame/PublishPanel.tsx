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

const VERBS = { added: 'goes live', changed: 'is changed', removed: 'is taken off', order: 'is changed', budget: 'is changed' } as const;

export function PublishPanel({ next, isOpen, onClose }: { next: NextReleaseView; isOpen: boolean; onClose: () => void }) {
  const router = useRouter();
  const [name, setName] = useState('');
  const [note, setNote] = useState('');
  const [error, setError] = useState<string>();
  const [isBusy, setBusy] = useState(false);

  useEffect(() => {
    if (!isOpen) return undefined;
    const timer = setInterval(() => router.refresh(), LOOK_MS);
    return () => clearInterval(timer);
  }, [isOpen, router]);

  async function publishNow(): Promise<void> {
    setBusy(true);
    const result = await call('POST /api/releases', { body: { name, note, seen: next.print } });
    setBusy(false);
    if (!result.ok) {
      setError(result.message);
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
          <li key={campaign} className="border-l-2 border-pine pl-3">
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
        {error}
      </p>
      <button className="act" disabled={isBusy || next.blockers.length > 0 || next.changes.length === 0} onClick={() => void publishNow()}>
        {isBusy ? 'Publishing' : `Publish release ${next.number}`}
      </button>
      <p className="mt-3 text-soft">Visitors get it with their next page.</p>
    </SidePanel>
  );
}
