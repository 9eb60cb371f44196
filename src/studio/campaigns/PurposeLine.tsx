'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Purpose } from '@/server/db/purposes';
import { call } from '../parts/net/call';
import type { Answered } from '../parts/net/send';
import { Phrase } from '../messages/Phrase';

/** What a campaign shares with others: who, where and what counts as success; or the way to share it. */
export function PurposeLine({
  campaign,
  name,
  purpose,
  purposes,
}: {
  campaign: string;
  name: string;
  purpose: string | undefined;
  purposes: readonly Purpose[];
}) {
  const router = useRouter();
  const own = purposes.find(({ id }) => id === purpose);
  async function done(asked: Promise<Answered<unknown>>): Promise<void> {
    const result = await asked;
    if (!result.ok) toast.error(result.message);
    router.refresh();
  }
  const set = (to: string | null): void =>
    void done(call('PUT /api/campaigns/{id}/purpose', { params: { id: campaign }, body: { purpose: to } }));
  if (own) {
    const others = own.campaigns.filter(({ id }) => id !== campaign);
    return (
      <section aria-label="Purpose" className="flex flex-wrap items-baseline gap-x-2 text-soft">
        One of {own.campaigns.length} {own.campaigns.length === 1 ? 'form' : 'forms'} of
        <Phrase label="Name of the purpose" words={own.name}>
          {(close) => (
            <NameForm
              initial={own.name}
              button="Rename the purpose"
              onName={(next) => {
                void done(call('PUT /api/purposes/{id}', { params: { id: own.id }, body: { name: next } }));
                close();
              }}
            />
          )}
        </Phrase>
        <span>
          {others.length === 0 ? (
            'so far: let other campaigns join it, and they share who, where and success'
          ) : (
            <>
              – who, where and what counts as success are the same in{' '}
              {others.map(({ id, name: other, isLive }, index) => (
                <span key={id}>
                  {index > 0 && ', '}
                  <Link className="font-semibold text-ink underline decoration-line underline-offset-4" href={`/campaigns/${id}`}>
                    {other}
                  </Link>
                  {isLive && ' (live)'}
                </span>
              ))}
              . What you change there changes {others.length === 1 ? 'it' : 'them'}, too
            </>
          )}
          .
        </span>
        <button className="font-semibold text-ink underline decoration-line underline-offset-4" onClick={() => set(null)}>
          Leave it
        </button>
      </section>
    );
  }
  return (
    <section aria-label="Purpose" className="text-soft">
      A campaign of its own.{' '}
      <Phrase label="Share who, where and success" words="Share who, where and success with others">
        {(close) => (
          <div className="grid gap-4">
            {purposes.length > 0 && (
              <div className="grid gap-1">
                <p className="text-soft">Join a purpose, and take over its people, pages and success:</p>
                {purposes.map(({ id, name: other, campaigns }) => (
                  <button
                    key={id}
                    className="rounded px-3 py-1.5 text-start hover:bg-bone"
                    onClick={() => {
                      set(id);
                      close();
                    }}
                  >
                    <b>{other}</b> <span className="text-soft">with {campaigns.map((one) => one.name).join(', ')}</span>
                  </button>
                ))}
              </div>
            )}
            <NameForm
              initial={name}
              button="Make a purpose of this campaign’s"
              onName={(next) => {
                void done(call('POST /api/purposes', { body: { name: next, campaign } }));
                close();
              }}
            />
          </div>
        )}
      </Phrase>
    </section>
  );
}

function NameForm({ initial, button, onName }: { initial: string; button: string; onName: (name: string) => void }) {
  const [name, setName] = useState(initial);
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim()) onName(name.trim());
      }}
    >
      <input aria-label="Name" className="field w-60" value={name} maxLength={200} onChange={({ target }) => setName(target.value)} />
      <button className="act-quiet">{button}</button>
    </form>
  );
}
