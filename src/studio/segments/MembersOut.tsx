'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { MemberChoice, MemberColumn } from '@/core/people/memberColumns';
import { MEMBER_COLUMN_WORDS, MEMBER_COLUMNS } from '@/core/people/memberColumns';
import { counted } from '../parts/counted';
import { addressOf, fetched } from '../parts/net/call';

const WHO: Readonly<Record<MemberChoice, string>> = {
  all: 'everybody in it',
  email: 'those with an email',
  agreed: 'those with an email who agreed',
};

function linesWords({ people, isMore }: { people: number; isMore: boolean }): string {
  if (people === 0) return 'That is nobody: the file would have its columns’ names alone.';
  return isMore ? `That is more than ${counted(people, 'line')}.` : `That is ${counted(people, 'line')}.`;
}

/** Who is in a segment now, as CSV with chosen columns. */
export function MembersOut({ segment }: { segment: string }) {
  const [who, setWho] = useState<MemberChoice>('agreed');
  const [columns, setColumns] = useState<readonly MemberColumn[]>(['email_sha256']);
  const [isOpen, setOpen] = useState(false);
  const { data } = useQuery({
    queryKey: ['members', segment, who],
    enabled: isOpen,
    queryFn: ({ signal }) => fetched('GET /api/segments/{id}/members', { params: { id: segment }, query: { who }, signal }),
  });
  const query = new URLSearchParams([['id', segment], ['who', who], ...columns.map((name) => ['column', name])]);
  return (
    <details className="sheet p-4" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
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
      <p role="status" className="mt-2 text-soft">
        {data && linesWords(data)}
      </p>
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
