'use client';

import { useState } from 'react';
import { Address, Words } from './fields';
import type { Field } from '@/core/messages/field';
import { FIELD_KINDS } from '@/core/messages/field';
import { Choice } from '../rule/fields';

const FIELDS: Readonly<Record<Field['kind'], string>> = {
  text: 'words',
  email: 'an email',
  phone: 'a phone number',
  number: 'a number',
  choice: 'one of a list',
  choices: 'some of a list',
  date: 'a date',
  consent: 'a consent',
};

/** What a field asks for, and what is taken as an answer. */
export function OfField({ field, onChange }: { field: Field; onChange: (field: Field) => void }) {
  const hasOptions = field.kind === 'choice' || field.kind === 'choices';
  return (
    <div className="grid min-w-0 flex-1 gap-1.5">
      <div className="flex flex-wrap items-center gap-2">
        <span className="min-w-0 flex-1 truncate font-semibold">{field.label}</span>
        asks for
        <Choice
          label={`What “${field.label}” asks for`}
          value={field.kind}
          options={FIELD_KINDS.map((kind) => [kind, FIELDS[kind]] as const)}
          onChange={(kind) => {
            const {
              options: _options,
              pattern: _pattern,
              min: _min,
              max: _max,
              checked: _checked,
              country: _country,
              wrong: _wrong,
              link: _link,
              ...rest
            } = field;
            onChange({
              ...rest,
              kind,
              ...(kind === 'choice' || kind === 'choices' ? { options: field.options ?? ['One', 'Another'] } : {}),
            });
          }}
        />
        <label className="inline-flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={field.required === true}
            onChange={({ target }) => onChange({ ...field, required: target.checked || undefined })}
          />
          needed
        </label>
      </div>
      <div className="flex flex-wrap items-center gap-2 text-soft">
        kept as
        <input
          aria-label={`Name of “${field.label}”`}
          className="field w-32 font-mono text-[13px]"
          value={field.name}
          maxLength={60}
          onChange={({ target }) => onChange({ ...field, name: target.value })}
        />
        {field.kind === 'text' && (
          <>
            like
            <input
              aria-label={`Pattern of “${field.label}”`}
              className="field w-32 font-mono text-[13px]"
              placeholder="any words"
              value={field.pattern ?? ''}
              maxLength={200}
              onChange={({ target }) => onChange({ ...field, pattern: target.value || undefined })}
            />
          </>
        )}
      </div>
      {field.pattern !== undefined && <TryPattern field={field} pattern={field.pattern} />}
      {(field.kind === 'email' || field.kind === 'phone') && <OfCheck field={field} onChange={onChange} />}
      {field.kind === 'consent' && <OfLink field={field} onChange={onChange} />}
      {hasOptions && (
        <label className="grid gap-1">
          <span className="text-soft">one a line</span>
          <textarea
            aria-label={`Options of “${field.label}”`}
            className="field"
            rows={3}
            value={(field.options ?? []).join('\n')}
            onChange={({ target }) => onChange({ ...field, options: target.value.split('\n').slice(0, 30) })}
            onBlur={({ target }) => {
              const options = target.value
                .split('\n')
                .map((one) => one.trim())
                .filter(Boolean);
              onChange({ ...field, options: options.length ? options : ['One'] });
            }}
          />
        </label>
      )}
    </div>
  );
}

/** Something typed to see whether the pattern takes it, as the browser will. */
function TryPattern({ field, pattern }: { field: Field; pattern: string }) {
  const [tried, setTried] = useState('');
  let takes: boolean | undefined;
  try {
    takes = new RegExp(`^(?:${pattern})$`, 'v').test(tried);
  } catch {
    return <p className="text-danger">“{pattern}” cannot be read as a pattern.</p>;
  }
  return (
    <label className="flex flex-wrap items-center gap-2 text-soft">
      try it
      <input
        aria-label={`Try the pattern of “${field.label}”`}
        className="field w-40"
        value={tried}
        maxLength={200}
        onChange={({ target }) => setTried(target.value)}
      />
      {tried !== '' && <span className={takes ? 'text-pine' : 'text-danger'}>{takes ? 'is taken' : 'is not taken'}</span>}
    </label>
  );
}

/** Whether an email or a phone number is looked at before the form is sent. */
function OfCheck({ field, onChange }: { field: Field; onChange: (field: Field) => void }) {
  const what = field.kind === 'email' ? 'it can be written to, and is not thrown away after minutes' : 'it can be rung';
  return (
    <div className="flex flex-wrap items-center gap-2 text-soft">
      <label className="inline-flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={field.checked === true}
          onChange={({ target }) =>
            onChange({
              ...field,
              checked: target.checked || undefined,
              wrong: target.checked
                ? (field.wrong ?? (field.kind === 'email' ? 'Please use another address.' : 'Please check this number.'))
                : undefined,
            })
          }
        />
        only if {what}
      </label>
      {field.checked && (
        <>
          {field.kind === 'phone' && (
            <input
              aria-label={`Country of “${field.label}”`}
              className="field w-16 font-mono text-[13px]"
              placeholder="AT"
              title="Where a number without a country’s code is from: two letters"
              maxLength={2}
              value={field.country ?? ''}
              onChange={({ target }) => onChange({ ...field, country: target.value.toUpperCase() || undefined })}
            />
          )}
          otherwise
          <input
            aria-label={`Said of a wrong “${field.label}”`}
            className="field w-56"
            maxLength={200}
            value={field.wrong ?? ''}
            onChange={({ target }) => onChange({ ...field, wrong: target.value || undefined })}
          />
        </>
      )}
    </div>
  );
}

/** Where what is agreed to can be read: kept with the consent, in the words that stood there. */
function OfLink({ field, onChange }: { field: Field; onChange: (field: Field) => void }) {
  const { link } = field;
  return (
    <div className="flex flex-wrap items-center gap-2 text-soft">
      <label className="inline-flex items-center gap-1.5">
        <input
          type="checkbox"
          checked={link !== undefined}
          onChange={({ target }) =>
            onChange({ ...field, link: target.checked ? { words: 'What that means', url: '/privacy' } : undefined })
          }
        />
        with a link
      </label>
      {link && (
        <>
          <Words
            label={`Words of the link in “${field.label}”`}
            className="w-40"
            most={200}
            value={link.words}
            onChange={(words) => onChange({ ...field, link: { ...link, words } })}
          />
          to
          <Address
            label={`Address of the link in “${field.label}”`}
            className="w-48"
            placeholder="/privacy"
            value={link.url}
            onChange={(url) => onChange({ ...field, link: { ...link, url } })}
          />
        </>
      )}
    </div>
  );
}
