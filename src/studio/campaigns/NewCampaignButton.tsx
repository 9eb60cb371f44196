'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { FIRST_TEXT } from '@/core/flows/unfinished';
import { call } from '../parts/net/call';
import { unusedName } from '../parts/saving/unusedName';
import { useMay } from '../parts/layout/Editing';

const START: Omit<CampaignDocument, 'name'> = {
  goal: { kind: 'form' },
  rule: { pages: { on: [{ op: 'like', value: '/**' }] }, moment: { kind: 'exit' }, pacing: { again: { days: 7 } } },
  flow: {
    start: 'first',
    messages: [
      {
        id: 'first',
        format: 'popup',
        blocks: [
          { kind: 'heading', text: 'Before you go' },
          { kind: 'text', text: FIRST_TEXT },
          {
            kind: 'form',
            fields: [{ kind: 'email', name: 'email', label: 'Your email', required: true }],
            submit: 'Send',
            thanks: 'Thank you. We will be in touch.',
          },
        ],
        closes: { button: true, dim: true, escape: true },
      },
    ],
  },
};

export function NewCampaignButton({ names }: { names: readonly string[] }) {
  const mayEdit = useMay('edit');
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  async function make(): Promise<void> {
    setBusy(true);
    const result = await call('POST /api/campaigns', { body: { ...START, name: unusedName('New campaign', names) } });
    if (result.ok) return router.push(`/campaigns/${result.value.id}`);
    setBusy(false);
    toast.error(result.message);
  }
  return (
    <button data-new className="act" disabled={isBusy || !mayEdit} onClick={() => void make()}>
      New campaign
    </button>
  );
}
