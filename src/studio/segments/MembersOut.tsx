'use client';

import { useState } from 'react';
import type { MemberChoice, MemberColumn } from '@/core/people/memberColumns';
import { MEMBER_COLUMN_WORDS, MEMBER_COLUMNS } from '@/core/people/memberColumns';
import { addressOf } from '../parts/net/call';

const WHO: Readonly<Record<MemberChoice, string>> = {
  all: 'everybody in it',
  email: 'those with an email',
  agreed: 'those with an email who agreed',
};

/** Who is in a segment now, as CSV with chosen columns. */
export function MembersOut({ segment }: { segment: string }) {
  const [who, setWho] = useState<MemberChoice>('agreed');
  const [columns, setColumns] = useState<readonly MemberColumn[]>(['email_sha256']);
  const query = new URLSearchParams([['id', segment], ['who', who], ...columns.map((name) => ['column', name])]);
  return (
    <details className="sheet p-4">
      <summary className="cursor-pointer font-bold">Its people as CSV</summary>
      <fieldset className="mt-2 grid gap-1">
        <legend className="sr-only">Columns</legend>
        {MEMBER_COLUMNS.map((name) => (
          <label key={name} className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={columns.includes(name)}
              onChange={({ target }) => setColumns(MEMBER_COLUMNS.filter((one) => (one === name ? target.checked : columns.includes(one))))}
            />
            {MEMBER_COLUMN_WORDS[name]}
          </label>
        ))}
      </fieldset>
      <label className="mt-2 flex flex-wrap items-center gap-2">
        of
        <select className="field" aria-label="Of whom" value={who} onChange={({ target }) => setWho(target.value as MemberChoice)}>
          {Object.entries(WHO).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </label>
      {columns.length > 0 ? (
        <a className="act-quiet mt-3 inline-block" href={addressOf('GET /members.csv', { more: query.toString() })} download>
          Take out CSV
        </a>
      ) : (
        <p className="mt-3 text-soft">Choose a column.</p>
      )}
    </details>
  );
}
