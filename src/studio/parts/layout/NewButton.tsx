'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { send } from '../net/send';

/** Makes a thing from a body and opens its editor. */
export function NewButton({ label, api, body, href }: { label: string; api: string; body: unknown; href: string }) {
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  async function make(): Promise<void> {
    setBusy(true);
    const result = await send<{ id: string }>('POST', api, body);
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
