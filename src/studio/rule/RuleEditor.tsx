import type { ReactNode } from 'react';
import { memo } from 'react';
import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import type { Family } from '@/core/rules/describe';
import type { Rule } from '@/core/rules/schema';
import { MomentEditor } from './MomentEditor';
import { PacingEditor } from './PacingEditor';
import { PatternList } from './PatternList';
import { PeopleEditor } from './PeopleEditor';
import { SavePeople } from './SavePeople';

/** One of the four families of a display rule. */
export const FamilyEditor = memo(function FamilyEditor({
  campaign,
  family,
  rule,
  onChange,
}: {
  campaign: string;
  family: Family;
  rule: Rule;
  onChange: (rule: Rule) => void;
}) {
  const { people: _people, ...withoutPeople } = rule;
  switch (family) {
    case 'people':
      return (
        <Sheet name="People">
          <PeopleEditor
            value={rule.people ?? { all: [] }}
            lookback={LONGEST_LOOKBACK_DAYS}
            self={campaign}
            onChange={(next) => onChange('all' in next && next.all.length === 0 ? withoutPeople : { ...rule, people: next })}
          />
          {rule.people === undefined && <p className="mt-2 text-soft">Everyone, until you add a condition.</p>}
          {rule.people !== undefined && !('kind' in rule.people && rule.people.kind === 'segment') && (
            <SavePeople people={rule.people} onSaved={(people) => onChange({ ...rule, people })} />
          )}
        </Sheet>
      );
    case 'pages':
      return (
        <Sheet name="Pages">
          <div className="grid gap-3 border-l-2 border-pages pl-3">
            <PatternList
              label="On page"
              value={rule.pages?.on ?? []}
              empty="On any page"
              onChange={(on) => onChange({ ...rule, pages: { ...rule.pages, on } })}
            />
            <h3 className="font-semibold">except</h3>
            <PatternList
              label="Except page"
              value={rule.pages?.except ?? []}
              onChange={(except) => onChange({ ...rule, pages: { ...rule.pages, except } })}
            />
          </div>
        </Sheet>
      );
    case 'moment':
      return (
        <Sheet name="Moment">
          <MomentEditor value={rule.moment ?? { kind: 'open' }} onChange={(moment) => onChange({ ...rule, moment })} />
        </Sheet>
      );
    case 'pacing':
      return (
        <Sheet name="Pacing">
          <PacingEditor value={rule.pacing ?? {}} onChange={(pacing) => onChange({ ...rule, pacing })} />
        </Sheet>
      );
  }
});

function Sheet({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section className="sheet self-start p-4" aria-label={name}>
      {children}
    </section>
  );
}
