'use client';

import { memo } from 'react';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { AnsweringLine } from '../conversations/AnsweringLine';
import { SendsLine } from '../connections/SendsLine';
import { Storyboard } from '../messages/Storyboard';
import type { Change } from '../parts/saving/useDraft';
import { GoalEditor } from './GoalEditor';
import { Editing } from '../parts/layout/Editing';

/** What a campaign shows, and what counts as its success. */
export const MessagesTab = memo(function MessagesTab({
  id,
  campaign,
  onChange,
  onWrite,
}: {
  id: string;
  campaign: CampaignDocument;
  onChange: (change: Change<CampaignDocument>) => void;
  /** For what is typed where it stands, and seen there before all else is drawn anew. */
  onWrite: (change: Change<CampaignDocument>) => void;
}) {
  return (
    <div className="grid gap-4">
      <Editing>
        <GoalEditor goal={campaign.goal} onChange={(goal) => onChange((now) => ({ ...now, goal }))} />
        <SendsLine campaign={id} />
        {campaign.flow.messages.some((message) => message.format === 'chat' && message.conversation.person) && (
          <AnsweringLine campaign={id} />
        )}
        <Storyboard id={id} campaign={campaign} onChange={onChange} onWrite={onWrite} />
      </Editing>
    </div>
  );
});
