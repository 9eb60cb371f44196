'use client';

import type { ReactNode } from 'react';
import type { Rule } from '@/core/rules/schema';
import { MomentEditor } from '../rule/MomentEditor';
import { PacingEditor } from '../rule/PacingEditor';
import { PatternList } from '../rule/PatternList';
import { PeopleEditor } from '../rule/PeopleEditor';

/** The four families of a display rule side by side. */
export function RuleEditor({ rule, onChange }: { rule: Rule; onChange: (rule: Rule) => void }) {
  const { people: _people, ...withoutPeople } = rule;
  const people = rule.people ?? { all: [] };
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <Family name="People" question="who" colour="people">
        <PeopleEditor
          value={people}
          unset="ever (540 days)"
          onChange={(next) => onChange('all' in next && next.all.length === 0 ? withoutPeople : { ...rule, people: next })}
        />
        {rule.people === undefined && <p className="text-soft">Everyone, until you add a condition.</p>}
      </Family>
      <Family name="Pages" question="where" colour="pages">
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
      </Family>
      <Family name="Moment" question="when" colour="moment">
        <MomentEditor value={rule.moment ?? { kind: 'open' }} onChange={(moment) => onChange({ ...rule, moment })} />
      </Family>
      <Family name="Pacing" question="how often" colour="pacing">
        <PacingEditor value={rule.pacing ?? {}} onChange={(pacing) => onChange({ ...rule, pacing })} />
      </Family>
    </div>
  );
}

function Family({
  name,
  question,
  colour,
  children,
}: {
  name: string;
  question: string;
  colour: 'people' | 'pages' | 'moment' | 'pacing';
  children: ReactNode;
}) {
  return (
    <section className="sheet p-5" aria-label={name}>
      <h2 className="mb-3 text-lg font-bold">
        <span className={`phrase phrase-${colour}`}>{name}</span> <span className="text-sm font-normal text-soft">{question}</span>
      </h2>
      {children}
    </section>
  );
}
