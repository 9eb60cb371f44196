'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import { unusedName } from '../parts/saving/unusedName';
import { FRESH } from './fresh';
import { useMay } from '../parts/layout/Editing';

export function NewSegmentButton({ names }: { names: readonly string[] }) {
  const mayEdit = useMay('edit');
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  async function make(): Promise<void> {
    setBusy(true);
    const result = await call('POST /api/segments', {
      body: {
        ...FRESH,
        name: unusedName('New segment', names),
      },
    });
    if (result.ok) return router.push(`/segments/${result.value.id}`);
    setBusy(false);
    toast.error(result.message);
  }
  return (
    <button data-new className="act" disabled={isBusy || !mayEdit} onClick={() => void make()}>
      New segment
    </button>
  );
}
