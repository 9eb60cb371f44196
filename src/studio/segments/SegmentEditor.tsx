'use client';

import { useCallback, useEffect, useMemo, useState } from 'react';
import { LOOKBACK, describeSegment, proposedName } from '@/core/rules/describe';
import { applyFix } from '@/core/rules/lint';
import type { Path } from '@/core/logic/expr';
import type { SegmentDocument } from '@/core/rules/schema';
import { nameSchema, segmentSchema } from '@/core/rules/schema';
import type { WordsFor } from '@/core/pages/names';
import type { User } from '@/server/segments/users';
import { RibbonList } from '../ribbon/RibbonList';
import { EditorHead } from '../parts/saving/EditorHead';
import { UsedBy } from '../parts/layout/UsedBy';
import { useSaved } from '../parts/saving/useSaved';
import { Findings } from '../rule/Findings';
import { RuleSentence } from '../rule/RuleSentence';
import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import { leafAt } from '../rule/ExprEditor';
import { NumberField } from '../rule/fields';
import { PeopleEditor } from '../rule/PeopleEditor';
import { PhraseLine } from '../rule/PhraseLine';
import type { PhraseOffer } from '../rule/phraseOffers';
import { peopleOffers } from '../rule/phraseOffers';
import type { Recorded } from '../rule/recorded';
import { useRecorded } from '../rule/recorded';
import { useFindings } from '../rule/useFindings';
import { useNames } from '../rule/useNames';
import { withoutPhrase } from '../rule/withoutPhrase';
import { KeptInStep } from '../connections/KeptInStep';
import { MembersOut } from './MembersOut';
import { SegmentActions } from './SegmentActions';
import { SegmentOverlap } from './SegmentOverlap';
import { SegmentContributions } from './SegmentContributions';
import { SegmentTrend } from './SegmentTrend';
import { isFresh } from './fresh';
import { useCounted } from './useCounted';
import { Editing, useMay } from '../parts/layout/Editing';

const draftSchema = segmentSchema.extend({ name: nameSchema });
type Draft = SegmentDocument & { name: string };

export function SegmentEditor({
  id,
  initial,
  revision,
  users,
  otherNames,
}: {
  id: string;
  initial: Draft;
  revision: number;
  users: readonly User[];
  otherNames: readonly string[];
}) {
  const mayEdit = useMay('edit');
  const names = useNames();
  const { sections } = useRecorded();
  const saved = useSaved<Draft>({
    initial,
    revision,
    schema: draftSchema,
    kind: 'segment',
    id,
  });
  const { draft, setDraft, isReady } = saved;
  const size = useCounted('size', draft, { isReady });
  const phrases = useMemo(() => describeSegment(draft, names), [draft, names]);
  const offersFor = useCallback(
    (typed: string, recorded: Recorded, words: WordsFor): PhraseOffer[] => peopleOffers(typed, recorded, words, id),
    [id],
  );
  const setPeople = (people: Draft['people'] | undefined): void => setDraft({ ...draft, people: people ?? { all: [] } });
  const { lookback, people } = draft;
  const asked = useMemo(() => ({ segment: { lookback, people } }), [lookback, people]);
  const findings = useFindings(asked, isReady);
  // A segment that was just made is opened to be written; any other is read first, and a phrase opens it.
  const [at, setAt] = useState<string | undefined>(isFresh(initial) ? '' : undefined);
  const open = (_family: unknown, path: Path = []): void => setAt((now) => (now === path.join('.') ? undefined : path.join('.')));
  useEffect(() => focusRow(at), [at]);
  const proposal = isReady ? proposedName(draft, names) : undefined;

  return (
    <div className="grid grid-cols-1 gap-4 p-6">
      <EditorHead saved={saved} more={<SegmentActions id={id} draft={draft} names={otherNames} />}>
        {proposal && /^New segment( \d+)?$/.test(draft.name) && (
          <button
            className="max-w-md truncate text-soft underline decoration-dotted underline-offset-4 hover:text-ink"
            onClick={() => setDraft({ ...draft, name: proposal })}
          >
            call it “{proposal}”
          </button>
        )}
      </EditorHead>
      <UsedBy users={users} />
      <section className="sheet px-5 pb-4 pt-2" aria-label="The segment as a sentence">
        <RuleSentence
          phrases={phrases}
          report={undefined}
          isOpen={(_family, path = []) => at === path.join('.')}
          onOpen={open}
          onDrop={(path) => mayEdit && setPeople(withoutPhrase({ people: draft.people }, path).people)}
        />
        <Editing>
          <PhraseLine
            label="Type a phrase into the segment"
            placeholder="and … type a page, a source, an event, a town, “3 visits”"
            offersFor={offersFor}
            onPick={(offer) => setPeople(offer.addTo(isEmpty(draft.people) ? {} : { people: draft.people }).people)}
          />
        </Editing>
      </section>
      <div className="grid grid-cols-1 gap-4 lg:grid-cols-[minmax(0,1fr)_320px]">
        <div className="grid min-w-0 grid-cols-1 content-start gap-4">
          {at !== undefined && (
            <Editing>
              <section className="sheet grid content-start gap-4 p-5" aria-label="Conditions">
                <PeopleEditor
                  value={draft.people}
                  self={id}
                  lookback={draft.lookback}
                  onChange={(next) => setDraft({ ...draft, people: next })}
                />
                <label id={leafAt(LOOKBACK)} className="flex items-center gap-2 text-soft">
                  Look back{' '}
                  <NumberField
                    label="Lookback in days"
                    value={draft.lookback}
                    min={1}
                    max={LONGEST_LOOKBACK_DAYS}
                    onChange={(days) => setDraft({ ...draft, lookback: Math.round(days) })}
                  />{' '}
                  days where a condition does not say
                </label>
              </section>
            </Editing>
          )}
          {size.data && size.data.visits.length > 0 && (
            <section aria-label="Some of them">
              <h2 className="mb-2 text-lg font-bold">Some of them, as they last came</h2>
              <RibbonList visits={size.data.visits} sections={sections} />
            </section>
          )}
        </div>
        <div className="grid content-start gap-4">
          <Findings
            isSegment
            findings={findings}
            phrases={phrases}
            onFix={(fix) => setPeople(applyFix<{ people?: Draft['people'] }>({ people: draft.people }, fix).people)}
          />
          <Size size={size} />
          <SegmentTrend segment={draft} isReady={isReady} />
          <SegmentContributions segment={draft} isReady={isReady} />
          <KeptInStep segment={id} />
          <MembersOut segment={id} />
          <SegmentOverlap id={id} segment={draft} isReady={isReady} />
        </div>
      </div>
    </div>
  );
}

const isEmpty = (people: Draft['people']): boolean => 'all' in people && people.all.length === 0;

/** From a phrase to the first field of its condition, which stands there only once the editor is open. */
function focusRow(at: string | undefined): void {
  const row = at === undefined ? null : document.getElementById(leafAt(at.split('.')));
  row?.querySelector<HTMLElement>('input, select, button')?.focus();
}

function Size({ size: { data, error, isFetching } }: { size: ReturnType<typeof useCounted<'size'>> }) {
  return (
    <section className="sheet content-start p-5" aria-label="Size" aria-live="polite">
      {error && (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      )}
      {!data && !error && <div className="skeleton h-20" />}
      {data && (
        <div className={isFetching ? 'opacity-60' : ''}>
          <p>
            <b className="font-display text-4xl">{data.people.toLocaleString('en-GB')}</b> people now
          </p>
          <p className="text-soft">
            {data.of === 0
              ? 'nobody is on record yet'
              : `${((100 * data.people) / data.of).toFixed(1)} % of ${data.of.toLocaleString('en-GB')} visitors on record`}
          </p>
          <div className="mt-3 h-2 rounded bg-line" role="presentation">
            <div className="h-2 rounded bg-people" style={{ width: `${data.of ? (100 * data.people) / data.of : 0}%` }} />
          </div>
          {data.unknown > 0 && (
            <p className="mt-3 text-soft">
              Of {data.unknown.toLocaleString('en-GB')} more it is not known: a fact the segment asks for was not recorded.
            </p>
          )}
          <p className="mt-3 text-xs text-soft">counted over every visitor in {data.ms} ms</p>
        </div>
      )}
    </section>
  );
}
