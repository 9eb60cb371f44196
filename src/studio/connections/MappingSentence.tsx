'use client';

import { useState } from 'react';
import { commaList } from '@/core/parsing/commaList';
import type { Mapped, Mapping } from '@/core/connections/mapping';
import { call } from '../parts/net/call';
import { OneOf, Phrase } from '../messages/Phrase';

interface Tried {
  readonly lead: { readonly email: string | null; readonly at: string } | null;
  readonly goes?: Mapped;
  readonly came?: { readonly ok: boolean; readonly note: string };
}

type Chosen = Exclude<Mapping['answers'], 'all'>;

const answerWords = ({ answer, as }: Chosen[number]): string => `“${answer}”${as && as !== answer ? ` as “${as}”` : ''}`;

/** What of a campaign's leads goes to a connection, as a sentence whose words can be changed, and tried with the last lead. */
export function MappingSentence({
  campaign,
  to,
  mapping,
  answers,
  onChange,
}: {
  campaign: string;
  to: { readonly id: string; readonly name: string };
  mapping: Mapping;
  answers: readonly string[];
  onChange: (mapping: Mapping) => void;
}) {
  const [tried, setTried] = useState<Tried | string>();
  const attempt = async (really: boolean): Promise<void> => {
    const result = await call('POST /api/campaigns/{id}/sends/try', {
      params: { id: campaign },
      body: { connection: to.id, mapping, send: really },
    });
    setTried(result.ok ? result.value : result.message);
  };
  const change = (next: Partial<Mapping>): void => {
    setTried(undefined);
    onChange({ ...mapping, ...next });
  };
  const chosen = mapping.answers === 'all' ? [] : mapping.answers;
  return (
    <div className="mt-1 text-soft" role="group" aria-label={`What goes to ${to.name}`}>
      <p className="font-display text-base leading-7">
        {to.name} gets{' '}
        <OneOf
          label="Email"
          value={mapping.email ? 'yes' : 'no'}
          options={[
            ['yes', 'their email'],
            ['no', 'no email'],
          ]}
          onChange={(is) => change({ email: is === 'yes' })}
        />
        ,{' '}
        <Phrase
          label="Answers"
          words={
            mapping.answers === 'all'
              ? 'all answers'
              : chosen.length === 0
                ? 'no answers'
                : `the ${chosen.length === 1 ? 'answer' : 'answers'} to ${chosen.map(answerWords).join(', ')}`
          }
        >
          {() => <Answers mapping={mapping} answers={answers} onChange={(next) => change({ answers: next })} />}
        </Phrase>
        , and{' '}
        <Phrase
          label="Tags"
          words={
            [...mapping.tags.map((tag) => `tag “${tag}”`), ...(mapping.campaign ? ['the campaign’s name as a tag'] : [])].join(', ') ||
            'no tags'
          }
        >
          {() => <Tags mapping={mapping} onChange={change} />}
        </Phrase>
        .{' '}
        <button className="underline decoration-dotted underline-offset-4 hover:text-ink" onClick={() => void attempt(false)}>
          try it with the last lead
        </button>
      </p>
      {tried !== undefined && <Came tried={tried} name={to.name} onSend={() => void attempt(true)} />}
    </div>
  );
}

function Answers({
  mapping,
  answers,
  onChange,
}: {
  mapping: Mapping;
  answers: readonly string[];
  onChange: (answers: Mapping['answers']) => void;
}) {
  const isAll = mapping.answers === 'all';
  const chosen = mapping.answers === 'all' ? [] : mapping.answers;
  const names = [...new Set([...answers, ...chosen.map(({ answer }) => answer)])];
  return (
    <div className="grid gap-2">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={isAll}
          onChange={({ target }) => onChange(target.checked ? 'all' : answers.map((answer) => ({ answer })))}
        />
        all answers, under their own names
      </label>
      {names.map((name) => {
        const one = chosen.find(({ answer }) => answer === name);
        return (
          <p key={name} className="flex items-center gap-2">
            <label className="flex min-w-40 items-center gap-2">
              <input
                type="checkbox"
                disabled={isAll}
                checked={isAll || one !== undefined}
                onChange={({ target }) =>
                  onChange(target.checked ? [...chosen, { answer: name }] : chosen.filter(({ answer }) => answer !== name))
                }
              />
              {name}
            </label>
            {one && (
              <label className="flex items-center gap-2">
                as
                <input
                  className="field w-36"
                  aria-label={`${name} as`}
                  placeholder={name}
                  maxLength={100}
                  value={one.as ?? ''}
                  onChange={({ target }) =>
                    onChange(
                      chosen.map((each) =>
                        each.answer === name ? { answer: name, ...(target.value.trim() ? { as: target.value } : {}) } : each,
                      ),
                    )
                  }
                />
              </label>
            )}
          </p>
        );
      })}
      {names.length === 0 && <p className="text-soft">Its forms have no fields yet.</p>}
    </div>
  );
}

function Tags({ mapping, onChange }: { mapping: Mapping; onChange: (next: Partial<Mapping>) => void }) {
  const [text, setText] = useState(mapping.tags.join(', '));
  return (
    <div className="grid gap-2">
      <label className="grid gap-1">
        <span className="text-soft">Tags, with commas</span>
        <input
          className="field"
          maxLength={1000}
          value={text}
          onChange={({ target }) => {
            setText(target.value);
            const tags = commaList(target.value);
            onChange({ tags: [...new Set(tags)].slice(0, 20) });
          }}
        />
      </label>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={mapping.campaign} onChange={({ target }) => onChange({ campaign: target.checked })} />
        the campaign’s name, too
      </label>
    </div>
  );
}

/** What goes, and what the service answered once it has gone. */
function Came({ tried, name, onSend }: { tried: Tried | string; name: string; onSend: () => void }) {
  if (typeof tried === 'string')
    return (
      <p role="alert" className="text-danger">
        {tried}
      </p>
    );
  const { lead, goes, came } = tried;
  if (!lead || !goes) return <p role="status">It has no lead yet to try it with.</p>;
  const rows: (readonly [string, string])[] = [
    ['email', goes.email ?? 'none'],
    ...Object.entries(goes.fields).map(([field, value]) => [field, String(value)] as const),
    ['tags', goes.tags.join(', ') || 'none'],
  ];
  return (
    <div role="status" className="my-2 w-fit max-w-full rounded-lg border border-line p-3">
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4">
        {rows.map(([field, value], nth) => (
          <div key={`${nth} ${field}`} className="contents">
            <dt>{field}</dt>
            <dd className="break-words text-ink">{value}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <button className="act-quiet" onClick={onSend}>
          Send it to {name}
        </button>
        {came && <span className={came.ok ? '' : 'text-danger'}>{came.ok ? 'It arrived.' : `It did not arrive: ${came.note}.`}</span>}
      </p>
    </div>
  );
}
