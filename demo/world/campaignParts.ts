// What the demo's campaigns are made of.
import type { CampaignDocument, CampaignStatus } from '@/core/campaigns/campaign';
import type { Flow } from '@/core/flows/flow';

export interface DemoCampaign {
  readonly id: string;
  readonly status: CampaignStatus;
  readonly document: CampaignDocument;
}

export const LICHEN = '#6a5a1c';
export const SLATE = '#3a4746';
export const ALL_WAYS = { button: true, dim: true, escape: true } as const;
export const one = (message: Flow['messages'][number]): Flow => ({ start: message.id, messages: [message] });
export const email = (label: string) => ({ kind: 'email' as const, name: 'email', label, required: true });
