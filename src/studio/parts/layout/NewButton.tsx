'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { RequestName } from '../net/call';
import { callWith } from '../net/call';

/** What makes a thing, and gives its id. */
type MakerName = Extract<RequestName, 'POST /api/goals' | 'POST /api/page-sets' | 'POST /api/places'>;

/** Makes a thing from a body and opens its editor. */
export function NewButton({ label, api, body, href }: { label: string; api: MakerName; body: unknown; href: string }) {
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  async function make(): Promise<void> {
    setBusy(true);
    const result = await callWith(api, body);
    if (result.ok) return router.push(`${href}/${result.value.id}`);
    setBusy(false);
    toast.error(result.message);
  }
  return (
    <button data-new className="act" disabled={isBusy} onClick={() => void make()}>
      {label}
    </button>
  );
}
