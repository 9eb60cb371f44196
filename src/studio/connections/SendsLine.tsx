'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Mapping } from '@/core/connections/mapping';
import { EVERYTHING } from '@/core/connections/mapping';
import { call, fetched } from '../parts/net/call';
import { MappingSentence } from './MappingSentence';

interface Way {
  readonly id: string;
  readonly mapping: Mapping | null;
}
interface Sends {
  readonly connections: readonly Way[];
  readonly all: readonly { readonly id: string; readonly name: string }[];
  /** Names of the campaign's form fields. */
  readonly answers: readonly string[];
}

/** Where a campaign's leads go besides being kept here, and what of them; holds from the next lead on, without a release. */
export function SendsLine({ campaign }: { campaign: string }) {
  const { data } = useQuery({
    queryKey: ['sends', campaign],
    queryFn: () => fetched('GET /api/campaigns/{id}/sends', { params: { id: campaign } }),
  });
  return data && <Ways key={campaign} campaign={campaign} data={data} />;
}

function Ways({ campaign, data }: { campaign: string; data: Sends }) {
  const known = useQueryClient();
  const [connections, setConnections] = useState(data.connections);
  // One after the other: what was chosen last is what holds.
  const saving = useRef<Promise<void>>(Promise.resolve());
  const change = (next: readonly Way[]): void => {
    setConnections(next);
    saving.current = saving.current.then(async () => {
      const result = await call('PUT /api/campaigns/{id}/sends', { params: { id: campaign }, body: { connections: next } });
      if (result.ok) return void known.setQueryData(['sends', campaign], { ...data, connections: next });
      setConnections((now) => (now === next ? data.connections : now));
      toast.error(result.message);
    });
  };
  const wayTo = (id: string): Way | undefined => connections.find((one) => one.id === id);
  const choose = (id: string, is: boolean): void =>
    change(is ? [...connections, { id, mapping: null }] : connections.filter((one) => one.id !== id));
  const map = (id: string, mapping: Mapping): void => change(connections.map((one) => (one.id === id ? { id, mapping } : one)));
  return (
    <div role="group" aria-label="Where its leads go">
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <b>Its leads</b> are kept here{data.all.length > 0 && ', and sent at once to'}
        {data.all.map(({ id, name }) => (
          <label key={id} className="flex items-center gap-2">
            <input type="checkbox" checked={wayTo(id) !== undefined} onChange={({ target }) => choose(id, target.checked)} />
            {name}
          </label>
        ))}
        <Link className="text-soft underline decoration-line underline-offset-4 hover:text-ink" href="/setup/connections">
          {data.all.length > 0 ? 'connections' : 'send them somewhere, too'}
        </Link>
      </p>
      {data.all.map(({ id, name }) => {
        const way = wayTo(id);
        return (
          way && (
            <MappingSentence
              key={id}
              campaign={campaign}
              to={{ id, name }}
              mapping={way.mapping ?? EVERYTHING}
              answers={data.answers}
              onChange={(mapping) => map(id, mapping)}
            />
          )
        );
      })}
    </div>
  );
}
