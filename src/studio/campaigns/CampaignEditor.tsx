'use client';

import { Switch, Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import dynamic from 'next/dynamic';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import { toast } from 'sonner';
import type { CampaignDocument, CampaignStatus } from '@/core/campaigns/campaign';
import { campaignSchema } from '@/core/campaigns/campaign';
import type { Purpose } from '@/server/db/purposes';
import { call } from '../parts/net/call';
import { EditorHead } from '../parts/saving/EditorHead';
import { useSaved } from '../parts/saving/useSaved';
import { RulePanel } from '../rehearsal/RulePanel';
import { useFindings } from '../rule/useFindings';
import { CampaignHistory } from './CampaignHistory';
import { KeepAsPoint } from './KeepAsPoint';
import { PurposeLine } from './PurposeLine';
import { FirstPageProvider } from '../tryout/firstPage';
import { TryOnSite } from '../tryout/TryOnSite';
import type { Schedule } from './ScheduleLine';
import { ScheduleLine } from './ScheduleLine';
import { Editing } from '../parts/layout/Editing';

/** Loaded when its tab is opened: the rule need not wait for it. */
const CampaignResults = dynamic(() => import('../results/CampaignResults').then((part) => part.CampaignResults), {
  ssr: false,
  loading: () => <div className="skeleton h-96" role="status" aria-label="Loading the results" />,
});

const MessagesTab = dynamic(() => import('./MessagesTab').then((part) => part.MessagesTab), {
  ssr: false,
  loading: () => <div className="skeleton h-96" role="status" aria-label="Loading the messages" />,
});

export interface CampaignEditorProps {
  readonly id: string;
  readonly initial: CampaignDocument;
  readonly status: CampaignStatus;
  readonly revision: number;
  readonly releasedIn: number | undefined;
  readonly schedule: Schedule;
  /** Id of the purpose that it is one form of. */
  readonly purpose: string | undefined;
  readonly purposes: readonly Purpose[];
  /** The one that is opened first; the rule without one. */
  readonly tab?: 'results' | undefined;
}

export function CampaignEditor({ id, initial, status, revision, releasedIn, schedule, purpose, purposes, tab }: CampaignEditorProps) {
  const router = useRouter();
  const saved = useSaved<CampaignDocument>({
    kind: 'campaign',
    id,
    initial,
    revision,
    schema: campaignSchema,
    onSaved: () => router.refresh(), // The top line counts unpublished changes.
  });
  const { draft, setDraft, write, isReady } = saved;
  const asked = useMemo(() => ({ rule: draft.rule }), [draft.rule]);
  const findings = useFindings(asked, isReady);

  async function setStatus(next: CampaignStatus): Promise<void> {
    const result = await call('POST /api/campaigns/{id}', { params: { id }, body: { status: next } });
    if (!result.ok) toast.error(result.message);
    router.refresh();
  }

  return (
    <FirstPageProvider rule={draft.rule}>
      <div className="grid grid-cols-1 gap-4 p-6">
        <EditorHead
          saved={saved}
          more={
            <>
              <TryOnSite campaign={id} isSaved={saved.state.kind === 'saved'} />
              <KeepAsPoint campaign={id} />
            </>
          }
        >
          <OnSwitch status={status} releasedIn={releasedIn} onChange={(next) => void setStatus(next)} />
          <ScheduleLine campaign={id} status={status} isReleased={releasedIn !== undefined} schedule={schedule} />
        </EditorHead>
        <div className="print:hidden">
          <Editing>
            <PurposeLine campaign={id} name={draft.name} purpose={purpose} purposes={purposes} />
          </Editing>
        </div>
        <TabGroup defaultIndex={tab === 'results' ? 2 : 0}>
          <TabList className="mb-3 flex gap-5 border-b border-line">
            {['Rule', 'Messages', 'Results', 'History'].map((tab) => (
              <Tab
                key={tab}
                className="border-b-2 border-transparent px-1 pb-2 font-semibold text-soft data-selected:border-ink data-selected:text-ink"
              >
                {tab}
              </Tab>
            ))}
          </TabList>
          <TabPanels>
            <TabPanel>
              <RulePanel id={id} draft={draft} isReady={isReady} findings={findings} onChange={setDraft} />
            </TabPanel>
            <TabPanel>
              <MessagesTab id={id} campaign={draft} onChange={setDraft} onWrite={write} />
            </TabPanel>
            <TabPanel>
              <CampaignResults campaign={id} goal={draft.goal} variants={draft.variants?.map(({ name }) => name)} />
            </TabPanel>
            <TabPanel>
              <CampaignHistory campaign={id} />
            </TabPanel>
          </TabPanels>
        </TabGroup>
      </div>
    </FirstPageProvider>
  );
}

function OnSwitch({
  status,
  releasedIn,
  onChange,
}: {
  status: CampaignStatus;
  releasedIn: number | undefined;
  onChange: (next: CampaignStatus) => void;
}) {
  const isOn = status === 'live' || status === 'scheduled';
  const words = stateOf(status, releasedIn);
  return (
    <span className="flex items-center gap-2">
      <Switch
        checked={isOn}
        onChange={(next) => onChange(next ? 'live' : 'draft')}
        aria-label="Part of the next release"
        className="relative h-5 w-9 rounded-[3px] border border-soft bg-line data-checked:bg-pine"
      >
        <span className={`block h-[14px] w-[14px] rounded-[2px] bg-paper ${isOn ? 'translate-x-[18px]' : 'translate-x-[2px]'}`} />
      </Switch>
      <span className="text-soft">{words}</span>
    </span>
  );
}

/** A campaign that is paused, scheduled or over is held back from pages at once; one that is switched off goes with the next release. */
function stateOf(status: CampaignStatus, releasedIn: number | undefined): string {
  switch (status) {
    case 'live':
      return releasedIn ? `live in release ${releasedIn}` : 'goes live with the next release';
    case 'scheduled':
      return releasedIn ? `waits for its start in release ${releasedIn}` : 'starts as set, once it is published';
    case 'draft':
      return releasedIn ? 'ends with the next release' : 'draft';
    case 'paused':
    case 'ended':
      return status;
  }
}
