'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import type { KeptSegment } from '@/server/db/keptSegments';
import { call, fetched } from '../parts/net/call';
import type { Answered } from '../parts/net/send';
import { Ago } from '../parts/layout/Ago';

/** As it comes over the wire. */
type Kept = Omit<KeptSegment, 'doneAt'> & { readonly doneAt: string | null };

const n = (count: number): string => count.toLocaleString('en-GB');
const EVERY_MS = 5000;

/** Where a segment's people are, too: kept in step as they join and leave. */
export function KeptInStep({ segment }: { segment: string }) {
  const known = useQueryClient();
  const key = ['kept', segment];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => fetched('GET /api/segments/{id}/kept', { params: { id: segment } }),
    refetchInterval: ({ state }) => (state.data?.kept.length ? EVERY_MS : false),
  });
  // What was ticked holds until it is known what came of it.
  const [ticked, setTicked] = useState<Readonly<Record<string, boolean>>>({});
  if (!data) return null;
  const act = async (doing: Promise<Answered<unknown>>): Promise<void> => {
    const result = await doing;
    if (!result.ok) toast.error(result.message);
    await known.invalidateQueries({ queryKey: key });
    setTicked({});
  };
  const keep = (connection: string, is: boolean): void => {
    setTicked({ ...ticked, [connection]: is });
    void act(call('PUT /api/segments/{id}/kept', { params: { id: segment }, body: { connection, is } }));
  };
  const isAnywhere = data.kept.some(({ isEnding }) => !isEnding);
  return (
    <section className="sheet p-4" aria-labelledby="kept-in-step">
      <h2 id="kept-in-step" className="mb-1 font-bold">
        Kept in step
      </h2>
      <p className="mb-2 text-soft">
        Whoever is in it, has an email and agreed is sent there; whoever leaves it, takes their consent back or is erased is taken out.
      </p>
      {data.all.length === 0 && (
        <Link className="underline decoration-line underline-offset-4" href="/setup/connections">
          Connect a mail list, an ad audience or a web hook
        </Link>
      )}
      <ul className="grid gap-2">
        {data.all.map(({ id, name }) => {
          const kept = data.kept.find(({ connection }) => connection === id);
          return (
            <li key={id}>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={ticked[id] ?? (kept !== undefined && !kept.isEnding)}
                  onChange={({ target }) => keep(id, target.checked)}
                />
                <span className="font-semibold">{name}</span>
              </label>
              {kept && <Progress kept={kept} />}
            </li>
          );
        })}
      </ul>
      {isAnywhere && (
        <button className="act-quiet mt-3" onClick={() => void act(call('POST /api/segments/{id}/kept', { params: { id: segment } }))}>
          Compare now
        </button>
      )}
    </section>
  );
}

function Progress({ kept: { isEnding, doneAt, note, there, waiting, failed, connection, joined, gone } }: { kept: Kept }) {
  return (
    <p className="ms-6 text-soft">
      {isEnding ? `Everybody is being taken out: ${n(there)} are still there` : `${n(there)} there`}
      {waiting > 0 && ` · ${n(waiting)} on their way`}
      {failed > 0 && (
        <>
          {' · '}
          <Link className="text-danger underline underline-offset-4" href={`/setup/connections/${connection}`}>
            {n(failed)} refused
          </Link>
        </>
      )}
      {' · '}
      {doneAt ? (
        <>
          compared <Ago at={Date.parse(doneAt)} />
        </>
      ) : (
        'compared in a moment'
      )}
      {joined + gone > 0 && ` · ${n(joined)} sent, ${n(gone)} taken out so far`}
      {note && <span className="block text-danger">{note}</span>}
    </p>
  );
}
