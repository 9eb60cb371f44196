'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { EditedKind } from '@/server/db/trash';
import { Empty } from '../parts/layout/Empty';
import { call } from '../parts/net/call';
import { EDITED } from '../parts/saving/edited';

export interface Deleted {
  readonly kind: EditedKind;
  readonly id: string;
  readonly name: string;
  /** UTC ms, as is when it goes for good. */
  readonly at: number;
  readonly goesAt: number;
}

const told = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** What was deleted of the site in the last thirty days, the latest first. */
export function DeletedList({ deleted }: { deleted: readonly Deleted[] }) {
  const router = useRouter();
  const [busy, setBusy] = useState<string>();
  async function bringBack({ kind, id, name }: Deleted): Promise<void> {
    setBusy(id);
    const result = await call('POST /api/trash', { body: { kind, id } });
    setBusy(undefined);
    if (result.ok) toast.success(`“${name}” is back`);
    else toast.error(result.message);
    router.refresh();
  }
  if (deleted.length === 0)
    return (
      <Empty title="Nothing was deleted">
        Campaigns, segments, places, page sets and goals that somebody deletes stay here for thirty days, to be brought back.
      </Empty>
    );
  return (
    <div className="sheet">
      <table className="list">
        <thead>
          <tr>
            <th>Name</th>
            <th>What it is</th>
            <th>Deleted</th>
            <th>Gone for good</th>
            <th>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {deleted.map((one) => (
            <tr key={one.kind + one.id} className="hover:bg-bone">
              <td className="font-semibold">{one.name}</td>
              <td>
                <Link className="hover:underline" href={EDITED[one.kind].list}>
                  {EDITED[one.kind].what}
                </Link>
              </td>
              <td className="whitespace-nowrap">{told(one.at)}</td>
              <td className="whitespace-nowrap">{told(one.goesAt)}</td>
              <td className="text-end">
                <button
                  className="act-quiet"
                  aria-label={`Bring back ${one.name}`}
                  disabled={busy === one.id}
                  onClick={() => void bringBack(one)}
                >
                  Bring it back
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
