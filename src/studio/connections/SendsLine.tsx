'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { toast } from 'sonner';
import type { Mapping } from '@/core/connections/mapping';
import { EVERYTHING } from '@/core/connections/mapping';
import { send } from '../parts/net/send';
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
  const known = useQueryClient();
  const { data } = useQuery({
    queryKey: ['sends', campaign],
    queryFn: async () => {
      const result = await send<Sends>('GET', `/api/campaigns/${campaign}/sends`);
      if (!result.ok) throw new Error(result.message);
      return result.value;
    },
  });
  if (!data) return null;
  const change = async (connections: readonly Way[]): Promise<void> => {
    known.setQueryData(['sends', campaign], { ...data, connections });
    const result = await send('PUT', `/api/campaigns/${campaign}/sends`, { connections });
    if (result.ok) return;
    known.setQueryData(['sends', campaign], data);
    toast.error(result.message);
  };
  const wayTo = (id: string): Way | undefined => data.connections.find((one) => one.id === id);
  const choose = (id: string, is: boolean): Promise<void> =>
    change(is ? [...data.connections, { id, mapping: null }] : data.connections.filter((one) => one.id !== id));
  const map = (id: string, mapping: Mapping): Promise<void> =>
    change(data.connections.map((one) => (one.id === id ? { id, mapping } : one)));
  return (
    <div role="group" aria-label="Where its leads go">
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <b>Its leads</b> are kept here{data.all.length > 0 && ', and sent at once to'}
        {data.all.map(({ id, name }) => (
          <label key={id} className="flex items-center gap-2">
            <input type="checkbox" checked={wayTo(id) !== undefined} onChange={({ target }) => void choose(id, target.checked)} />
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
              onChange={(mapping) => void map(id, mapping)}
            />
          )
        );
      })}
    </div>
  );
}
