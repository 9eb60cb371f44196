'use client';

import type { Brand } from '@/core/brand/brand';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { FlowFinding } from '@/core/flows/checks';
import { checkFlow } from '@/core/flows/checks';
import { withMessage, withOptionalEmail, withoutMessage, withValue } from '@/core/flows/edit';
import type { Flow } from '@/core/flows/flow';
import { messageOf } from '@/core/flows/flow';
import type { LookFinding } from '@/core/flows/looks';
import { checkLooks, MARK_RATIO } from '@/core/flows/looks';
import { asGroup } from '@/core/logic/expr';
import type { Message } from '@/core/messages/message';

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

interface Shown {
  readonly message: string;
  readonly words: string;
  readonly isError: boolean;
  readonly fix?: Fix | undefined;
}

const ofFlow = (finding: FlowFinding): Shown => ({
  message: finding.message,
  words: WORDS[finding.code],
  isError: finding.severity === 'error',
  fix: fixOf(finding),
});

function ofLook(finding: LookFinding): Shown {
  const { message } = finding;
  switch (finding.code) {
    case 'look.pale': {
      const { colour, ratio, better } = finding;
      return {
        message,
        words: `has buttons and marks in ${colour}, which stand out from white by ${ratio.toFixed(1)} : 1; ${MARK_RATIO} : 1 are needed`,
        isError: false,
        fix: { words: `Take ${better}`, make: (flow) => changed(flow, message, (one) => ({ ...one, colour: better })) },
      };
    }
    case 'look.noDescription':
      return { message, words: 'is nothing but a picture that is not described', isError: false };
    case 'look.missingValue':
      return { message, words: `names {${finding.value}}, which Setup, Brand does not have, with nothing to say instead`, isError: true };
    case 'look.asksForKnown':
      return {
        message,
        words: `asks for “${finding.field}” of people who are known already`,
        isError: false,
        fix: { words: 'Let it be left empty', make: (flow) => changed(flow, message, withOptionalEmail) },
      };
  }
}

const changed = (flow: Flow, id: string, change: (message: Message) => Message): Flow => {
  const message = messageOf(flow, id);
  return message ? withMessage(flow, id, change(message)) : flow;
};

/** Only people who are known are meant: it stands alone, or all of several have to hold. */
function asksForKnown(people: CampaignDocument['rule']['people']): boolean {
  if (!people) return false;
  const group = asGroup(people);
  if (group) return group.join === 'all' && group.parts.some(asksForKnown);
  return 'kind' in people && people.kind === 'known' && people.is;
}

/** What is wrong with the flow and with how it looks, each with what would mend it. */
export function WhatCouldGoWrong({
  campaign,
  brand,
  onFix,
}: {
  campaign: CampaignDocument;
  brand: Brand;
  onFix: (fix: (flow: Flow) => Flow) => void;
}) {
  const { flow, variants, rule } = campaign;
  const findings = [
    ...checkFlow(flow, variants).map(ofFlow),
    ...checkLooks(flow, brand, { knowsEmail: asksForKnown(rule.people) }).map(ofLook),
  ];
  if (findings.length === 0) return null;
  return (
    <section aria-label="What could go wrong" className="sheet">
      <h3 className="border-b border-line px-4 py-2 font-sans text-xs font-semibold">What could go wrong</h3>
      <ul>
        {findings.map(({ message, words, isError, fix }, index) => (
          <li key={index} className="flex flex-wrap gap-x-2 border-b border-line px-4 py-2 last:border-0">
            <b>{message}</b> {words}
            {isError && <span className="text-danger">and is not published so</span>}
            {fix && (
              <button className="font-semibold underline decoration-line decoration-2 underline-offset-4" onClick={() => onFix(fix.make)}>
                {fix.words}
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
