'use client';

import { Crosshair } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Pointed } from '@/core/tryout/asked';
import { call } from '../parts/net/call';
import { useFirstPage } from './firstPage';
import { openOnSite } from './openOnSite';

const ASK_MS = 700;

/** Opens the site to point at a page or an element there; what was picked comes back to the field. */
export function PickOnSite<K extends Pointed['kind']>({
  wants,
  onPick,
}: {
  wants: K;
  onPick: (picked: Extract<Pointed, { kind: K }>) => void;
}) {
  const first = useFirstPage();
  const [waiting, setWaiting] = useState<string>();
  const pick = useRef(onPick);
  useEffect(() => {
    pick.current = onPick;
  }, [onPick]);
  useEffect(() => {
    if (waiting === undefined) return undefined;
    const stop = new AbortController();
    const ask = async (): Promise<void> => {
      const answer = await call('GET /api/tryouts/{id}', { params: { id: waiting }, signal: stop.signal });
      if (stop.signal.aborted) return;
      // A studio that is away for a moment is asked again.
      if (!answer.ok && answer.status === 404) setWaiting(undefined);
      if (answer.ok && answer.value.picked?.kind === wants) {
        pick.current(answer.value.picked as Extract<Pointed, { kind: K }>);
        setWaiting(undefined);
      }
    };
    const timer = setInterval(() => void ask(), ASK_MS);
    return () => {
      stop.abort();
      clearInterval(timer);
    };
  }, [waiting, wants]);
  async function open(): Promise<void> {
    const opened = await openOnSite({ page: first, wants });
    if (opened.ok) setWaiting(opened.id);
    else toast.error(opened.message);
  }
  if (waiting !== undefined)
    return (
      <span className="inline-flex items-center gap-2 text-soft" role="status">
        waiting for what you point at in the other tab
        <button className="underline" onClick={() => setWaiting(undefined)}>
          do not wait
        </button>
      </span>
    );
  return (
    <button type="button" className="inline-flex items-center gap-1 text-soft hover:text-ink" onClick={() => void open()}>
      <Crosshair size={14} aria-hidden="true" /> pick it on the site
    </button>
  );
}
