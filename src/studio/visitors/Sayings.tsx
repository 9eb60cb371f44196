'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Saying } from '@/server/visitors/claims';
import { call } from '../parts/net/call';

/** Whom a browser says to be: signed by the site's server, or as a claim that can be taken back. */
export function Sayings({ visitor, sayings, mayUndo }: { visitor: number; sayings: readonly Saying[]; mayUndo: boolean }) {
  const router = useRouter();
  const [asked, setAsked] = useState<string>();
  if (sayings.length === 0) return null;
  const undo = async ({ by, value }: Saying): Promise<void> => {
    setAsked(undefined);
    const result = await call('POST /api/visitors/{id}/undone-claims', { params: { id: String(visitor) }, body: { by, value } });
    if (!result.ok) return void toast.error(result.message);
    toast.success(`Visitor ${visitor} is not ${value} any more`);
    router.refresh();
  };
  const emails = sayings.filter(({ by }) => by === 'email').length;
  return (
    <section aria-label="Who they say they are" className="grid gap-1">
      <ul className="grid gap-1">
        {sayings.map((one) => (
          <li key={`${one.by} ${one.value}`} className="flex flex-wrap items-baseline gap-x-3">
            <span className="text-soft">{one.isClaim ? 'Says to be' : 'Is'}</span>
            <span className="font-semibold break-all">{one.by === 'email' ? one.value : `customer ${one.value}`}</span>
            <span className="text-soft">{one.isClaim ? 'not signed by the site: anybody can have typed it' : 'signed by the site'}</span>
            {mayUndo && one.isClaim && (
              <button
                className="text-soft underline decoration-line underline-offset-4 hover:text-ink"
                onBlur={() => setAsked(undefined)}
                onClick={() => (asked === one.value ? void undo(one) : setAsked(one.value))}
              >
                {asked === one.value ? 'Take it off this visitor, with the traits said along with it' : 'This is not them'}
              </button>
            )}
          </li>
        ))}
      </ul>
      {emails > 1 && (
        <p className="text-soft">
          Several emails were said in this browser. They are kept apart: looked for by one, nothing of the others is found.
        </p>
      )}
    </section>
  );
}
