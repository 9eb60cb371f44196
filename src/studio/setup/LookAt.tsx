'use client';

import { Check, Info, TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import type { Finding } from '@/core/install/look';
import { useMay } from '../parts/layout/Editing';
import { call } from '../parts/net/call';

const SIGNS = {
  good: <Check size={15} className="mt-0.5 shrink-0 text-pine" aria-label="Well" />,
  off: <TriangleAlert size={15} className="mt-0.5 shrink-0 text-danger" aria-label="Not well" />,
  note: <Info size={15} className="mt-0.5 shrink-0 text-soft" aria-label="To know" />,
} as const;

/** Fetches a page of the site as a stranger would, and says whether the line stands in it and how. */
export function LookAt() {
  const [url, setUrl] = useState('');
  const [looked, setLooked] = useState<{ url: string; findings: readonly Finding[] }>();
  const [error, setError] = useState<string>();
  const [isBusy, setBusy] = useState(false);
  const [isInside, setInside] = useState(false);
  const isOwner = useMay('own');
  async function look(): Promise<void> {
    setBusy(true);
    const answer = await call('POST /api/site/look', { body: { url, ...(isInside ? { allowPrivate: true } : {}) } });
    setBusy(false);
    setError(answer.ok ? undefined : answer.message);
    setLooked(answer.ok && answer.value.findings !== undefined ? answer.value : undefined);
  }
  return (
    <form
      className="mt-4 border-t border-line pt-4"
      aria-label="Look at an address"
      onSubmit={(event) => {
        event.preventDefault();
        void look();
      }}
    >
      <label className="grid gap-1">
        Look at an address
        <span className="flex gap-2">
          <input
            className="field min-w-0 flex-1 font-mono text-[13px]"
            placeholder="https://www.example.com/"
            value={url}
            required
            onChange={({ target }) => setUrl(target.value)}
          />
          <button className="act-quiet" disabled={isBusy}>
            {isBusy ? 'Looking' : 'Look'}
          </button>
        </span>
      </label>
      {isOwner && (
        <label className="mt-2 flex items-center gap-2 text-soft">
          <input type="checkbox" checked={isInside} onChange={({ target }) => setInside(target.checked)} />
          It is on this machine or in our own network
        </label>
      )}
      <p role="alert" className="mt-2 text-danger empty:hidden">
        {error}
      </p>
      {looked && (
        <div role="status" className="mt-3">
          <p className="mb-1 break-all font-mono text-[13px]">{looked.url}</p>
          <ul className="grid gap-1" aria-label="What was found">
            {looked.findings.map(({ kind, code, words }) => (
              <li key={code} className="flex gap-2">
                {SIGNS[kind]}
                <span>{words}</span>
              </li>
            ))}
          </ul>
        </div>
      )}
    </form>
  );
}
