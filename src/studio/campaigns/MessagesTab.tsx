'use client';

import type { CampaignDocument } from '@/core/campaigns/campaign';
import { AnsweringLine } from '../conversations/AnsweringLine';
import { SendsLine } from '../connections/SendsLine';
import { Storyboard } from '../messages/Storyboard';
import { GoalEditor } from './GoalEditor';

/** What a campaign shows, and what counts as its success. */
export function MessagesTab({
  id,
  campaign,
  onChange,
}: {
  id: string;
  campaign: CampaignDocument;
  onChange: (campaign: CampaignDocument) => void;
}) {
  return (
    <div className="grid gap-4">
      <GoalEditor goal={campaign.goal} onChange={(goal) => onChange({ ...campaign, goal })} />
      <SendsLine campaign={id} />
      {campaign.flow.messages.some((message) => message.format === 'chat' && message.conversation.person) && (
        <AnsweringLine campaign={id} />
      )}
      <Storyboard id={id} campaign={campaign} onChange={onChange} />
    </div>
  );
}
