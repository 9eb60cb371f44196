'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { toast } from 'sonner';
import { send } from '../parts/net/send';

interface Sends {
  readonly connections: readonly string[];
  readonly all: readonly { readonly id: string; readonly name: string }[];
}

/** Where a campaign's leads go besides being kept here; holds from the next lead on, without a release. */
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
  const change = async (id: string, is: boolean): Promise<void> => {
    const connections = is ? [...data.connections, id] : data.connections.filter((one) => one !== id);
    known.setQueryData(['sends', campaign], { ...data, connections });
    const result = await send('PUT', `/api/campaigns/${campaign}/sends`, { connections });
    if (result.ok) return;
    known.setQueryData(['sends', campaign], data);
    toast.error(result.message);
  };
  return (
    <p className="flex flex-wrap items-center gap-x-4 gap-y-1" role="group" aria-label="Where its leads go">
      <b>Its leads</b> are kept here{data.all.length > 0 && ', and sent at once to'}
      {data.all.map(({ id, name }) => (
        <label key={id} className="flex items-center gap-2">
          <input type="checkbox" checked={data.connections.includes(id)} onChange={({ target }) => void change(id, target.checked)} />
          {name}
        </label>
      ))}
      <Link className="text-soft underline decoration-line underline-offset-4 hover:text-ink" href="/setup/connections">
        {data.all.length > 0 ? 'connections' : 'send them somewhere, too'}
      </Link>
    </p>
  );
}
