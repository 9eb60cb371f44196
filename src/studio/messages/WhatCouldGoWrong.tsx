'use client';

import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { FlowFinding } from '@/core/flows/checks';
import { checkFlow } from '@/core/flows/checks';
import { withoutMessage, withValue } from '@/core/flows/edit';
import type { Flow } from '@/core/flows/flow';

const WORDS: Readonly<Record<FlowFinding['code'], string>> = {
  'flow.unknownMessage': 'leads to a message that is not there',
  'flow.unreachable': 'is never reached',
  'flow.deadEnd': 'has an answer that does nothing',
  'flow.noWayToClose': 'cannot be left: nothing closes it',
  'flow.empty': 'says nothing',
  'conversation.unknownStep': 'has an answer that leads to a step that is not there',
  'conversation.unreachable': 'has a step that is never reached',
  'conversation.neverEnds': 'never ends',
  'conversation.sameId': 'has two steps of one name',
};

interface Fix {
  readonly words: string;
  readonly make: (flow: Flow) => Flow;
}

function fixOf({ code, path, message }: FlowFinding): Fix | undefined {
  switch (code) {
    case 'flow.unreachable':
      return { words: 'Take it out', make: (flow) => withoutMessage(flow, message) };
    case 'flow.noWayToClose':
      return { words: 'Give it a ×', make: (flow) => withValue(flow, [...path, 'closes', 'button'], true) };
    case 'flow.deadEnd':
    case 'flow.unknownMessage':
      return { words: 'Let it close', make: (flow) => withValue(flow, path, [{ kind: 'close' }]) };
    case 'flow.empty':
    case 'conversation.unknownStep':
    case 'conversation.unreachable':
    case 'conversation.neverEnds':
    case 'conversation.sameId':
      return undefined;
  }
}

/** What is wrong with the flow, each with what would mend it. */
export function WhatCouldGoWrong({ campaign, onChange }: { campaign: CampaignDocument; onChange: (campaign: CampaignDocument) => void }) {
  const findings = checkFlow(campaign.flow, campaign.variants);
  if (findings.length === 0) return null;
  return (
    <section aria-label="What could go wrong" className="sheet">
      <h3 className="border-b border-line px-4 py-2 font-sans text-xs font-semibold">What could go wrong</h3>
      <ul>
        {findings.map((finding, index) => {
          const fix = fixOf(finding);
          return (
            <li key={index} className="flex flex-wrap gap-x-2 border-b border-line px-4 py-2 last:border-0">
              <b>{finding.message}</b> {WORDS[finding.code]}
              {finding.severity === 'error' && <span className="text-danger">and is not published so</span>}
              {fix && (
                <button
                  className="font-semibold underline decoration-line decoration-2 underline-offset-4"
                  onClick={() => onChange({ ...campaign, flow: fix.make(campaign.flow) })}
                >
                  {fix.words}
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
