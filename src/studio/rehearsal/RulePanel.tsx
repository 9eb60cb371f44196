'use client';

import { useCallback, useMemo, useState } from 'react';
import type { CampaignDocument } from '@/core/campaigns/campaign';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { Family } from '@/core/rules/describe';
import { describeRule } from '@/core/rules/describe';
import type { Finding } from '@/core/rules/lint';
import { applyFix } from '@/core/rules/lint';
import type { Rule } from '@/core/rules/schema';
import type { RehearsedDays } from '@/core/rehearsal/rehearsed';
import { Findings } from '../rule/Findings';
import { FamilyEditor } from '../rule/RuleEditor';
import { PhraseLine } from '../rule/PhraseLine';
import type { PhraseOffer } from '../rule/phraseOffers';
import { phraseOffers } from '../rule/phraseOffers';
import { useNames } from '../rule/useNames';
import { withoutPhrase } from '../rule/withoutPhrase';
import { Collisions } from './Collisions';
import { RehearsalHead } from './RehearsalHead';
import { RehearsalRibbons } from './RehearsalRibbons';
import { RuleSentence } from '../rule/RuleSentence';
import { Shares } from './Shares';
import { Steps } from './Steps';
import { useRehearsal } from './useRehearsal';
import { WhenOnPage } from './WhenOnPage';
import { Editing, useMay } from '../parts/layout/Editing';

const FAMILIES: readonly (readonly [Family, string, string])[] = [
  ['people', 'People', 'who'],
  ['pages', 'Pages', 'where'],
  ['moment', 'Moment', 'when'],
  ['pacing', 'Pacing', 'how often'],
];

/** The rule with its rehearsal beside it at all times: a phrase opens its family's editor, the consequences stay in sight. */
export function RulePanel({
  id,
  draft,
  isReady,
  findings,
  onChange,
}: {
  id: string;
  draft: CampaignDocument;
  isReady: boolean;
  findings: readonly Finding[];
  onChange: (draft: CampaignDocument) => void;
}) {
  const mayEdit = useMay('edit');
  const names = useNames();
  const [open, setOpen] = useState<Family | undefined>(isNew(draft) ? 'people' : undefined);
  const [days, setDays] = useState<RehearsedDays>(30);
  const [withOthers, setWithOthers] = useState(false);
  const [picked, setPicked] = useState<number>();
  const leaveStep = useCallback(() => setPicked(undefined), []);
  const place = placeOf(startOf(draft.flow));
  const { report, expected, isRunning, isLate, answers, error, retry } = useRehearsal(
    { campaign: id, place, rule: draft.rule, days, withOthers },
    { isReady, names },
  );
  const phrases = useMemo(() => describeRule(draft.rule, names), [draft.rule, names]);
  const onRule = useCallback((rule: Rule) => onChange({ ...draft, rule }), [draft, onChange]);
  const onPick = useCallback((offer: PhraseOffer) => onRule(offer.addTo(draft.rule)), [draft.rule, onRule]);
  const toggle = (family: Family): void => setOpen((now) => (now === family ? undefined : family));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
      <section className="sheet px-5 pb-4 pt-2" aria-label="The rule as a sentence">
        <RuleSentence
          phrases={phrases}
          report={report}
          isOpen={(family) => family === open}
          onOpen={toggle}
          onDrop={(path) => mayEdit && onRule(withoutPhrase(draft.rule, path))}
        />
        <Editing>
          <PhraseLine
            label="Type a phrase into the rule"
            placeholder="and … type a page, a source, a segment, “20 s”, “exit”, “7 days”"
            offersFor={phraseOffers}
            onPick={onPick}
          />
        </Editing>
      </section>
      <div className="flex flex-wrap gap-2" role="group" aria-label="Edit">
        {FAMILIES.map(([family, name, question]) => (
          <button
            key={family}
            className="act-quiet aria-expanded:border-ink"
            aria-expanded={open === family}
            onClick={() => toggle(family)}
          >
            <span className={`phrase phrase-${family}`}>{name}</span> <span className="font-normal text-soft">{question}</span>
          </button>
        ))}
      </div>
      <div className={`grid gap-5 ${open ? 'xl:grid-cols-[460px_minmax(0,1fr)] lg:grid-cols-[420px_minmax(0,1fr)]' : ''}`}>
        {open && (
          <Editing>
            <FamilyEditor campaign={id} family={open} rule={draft.rule} onChange={onRule} />
          </Editing>
        )}
        <div className="grid min-w-0 grid-cols-1 content-start gap-3">
          {/* Beside what is clicked to edit: a finding that comes must not move that away from under one's hand. */}
          <Editing>
            <Findings findings={findings} phrases={phrases} onFix={(fix) => onRule(applyFix(draft.rule, fix))} />
          </Editing>
          <RehearsalHead
            report={expected ?? report}
            isRunning={isRunning}
            isLate={isLate}
            answers={answers}
            days={days}
            onDays={setDays}
            withOthers={withOthers}
            onWithOthers={setWithOthers}
          />
          {error && (
            <p role="alert" className="border-l-2 border-danger pl-3 text-danger">
              {error}{' '}
              <button className="underline" onClick={retry}>
                Rehearse again
              </button>
            </p>
          )}
          {report && (
            <div className={`grid gap-5 ${open ? 'grid-cols-1' : 'lg:grid-cols-[minmax(0,1fr)_380px]'}`}>
              <div className={`min-w-0 ${open ? 'order-2' : ''}`}>
                <RehearsalRibbons
                  showings={report.showings}
                  nearMisses={report.nearMisses}
                  step={picked === undefined ? undefined : report.steps[picked]}
                  onAllSteps={leaveStep}
                  letter={draft.name.charAt(0).toUpperCase() || '·'}
                  name={draft.name}
                />
              </div>
              <div className={`grid min-w-0 content-start gap-5 ${open ? 'sm:grid-cols-2' : ''}`}>
                <Steps steps={report.steps} visits={report.visits} picked={picked} onPick={setPicked} />
                <div className="grid min-w-0 content-start gap-5">
                  <WhenOnPage distributions={report.distributions} />
                  <Collisions report={report} isWithOthers={withOthers} />
                  {!open && <Shares distributions={report.distributions} sure={report.sure} />}
                </div>
              </div>
            </div>
          )}
        </div>
      </div>
    </div>
  );
}

const isNew = ({ rule }: CampaignDocument): boolean => rule.people === undefined && !rule.pages?.on?.length && rule.moment === undefined;
