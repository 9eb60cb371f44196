'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { copy } from './copy';

/** What the site's own server may report: purchases and the like that happen elsewhere. */
export function ServerEvents({ collector, siteKey, hasSecret: had }: { collector: string; siteKey: string; hasSecret: boolean }) {
  const [hasSecret, setHasSecret] = useState(had);
  const [secret, setSecret] = useState<string>();
  const make = async (): Promise<void> => {
    const result = await call('POST /api/site/events-secret');
    if (!result.ok) return void toast.error(result.message);
    toast(hasSecret ? 'A new secret; the last one no longer counts' : 'The secret is made');
    setHasSecret(true);
    setSecret(result.value.secret);
  };
  const request = `curl ${collector.replace(/\/$/, '')}/events/${siteKey} \\
  -H "authorization: Bearer ${secret ?? '…'}" \\
  -d '{"events":[{"id":"order-1207","email":"anna@example.org","event":"purchase","props":{"value":68},"at":"2026-11-27T10:00:00Z"}]}'`;
  return (
    <section className="sheet p-5" aria-labelledby="server-events">
      <h2 id="server-events" className="mb-3 text-lg font-bold">
        Events from your server
      </h2>
      <p className="mb-3 text-soft">
        What happens elsewhere – an order by telephone, a purchase in a shop – counts for campaigns and segments like an event of the page,
        if whoever did it has been on the site. Your server says who by email, customer id or browser id. The same id again is the same
        event.
      </p>
      <pre className="mb-3 rounded border border-line bg-bone p-3 font-mono text-[13px] break-all whitespace-pre-wrap">{request}</pre>
      {secret && (
        <p role="status" className="mb-3">
          The secret is shown this once: <code className="font-mono break-all">{secret}</code>{' '}
          <button className="act-quiet" onClick={() => void copy(secret)}>
            Copy
          </button>
        </p>
      )}
      <button className="act-quiet" onClick={() => void make()}>
        {hasSecret ? 'Make a new secret' : 'Make a secret'}
      </button>
    </section>
  );
}
