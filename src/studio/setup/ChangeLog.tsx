'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { LoggedKind } from '@/server/db/changeLog';

export interface LogLine {
  readonly id: string;
  /** UTC ms. */
  readonly at: number;
  readonly member: string | null;
  readonly kind: LoggedKind;
  readonly subject: string;
  readonly name: string;
  readonly did: string;
  /** What became of it, each to go on from the name. */
  readonly words: readonly string[];
  /** As JSON. */
  readonly before: string | undefined;
  readonly after: string | undefined;
}

/** Where what was changed is found; nothing for what has no place of its own. */
const PLACE: Partial<Record<LoggedKind, string>> = {
  campaign: '/campaigns/',
  segment: '/segments/',
  place: '/setup/places/',
  'page set': '/setup/page-sets/',
  goal: '/setup/goals/',
  connection: '/setup/connections/',
};

/** Who changed what and when, newest first; what a line changed can be looked at. `older`: the line from which on there is more. */
export function ChangeLog({ changes, query, older }: { changes: readonly LogLine[]; query: string; older: string | undefined }) {
  const router = useRouter();
  const [typed, setTyped] = useState(query);
  return (
    <div className="grid grid-cols-1 gap-3">
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          router.push(`/setup/log?${new URLSearchParams({ q: typed.trim() })}`);
        }}
      >
        <input
          data-filter
          type="search"
          aria-label="Search the log"
          className="field w-80 min-w-0"
          placeholder="A name, a person, paused, published …"
          value={typed}
          maxLength={200}
          onChange={({ target }) => setTyped(target.value)}
        />
        <button className="act-quiet">Search</button>
      </form>
      {changes.length === 0 && <p className="text-soft">{query ? 'Nothing in the log says that.' : 'Nothing has been changed yet.'}</p>}
      {changes.length > 0 && (
        <ol className="sheet" aria-label="Changes">
          {changes.map(({ id, at, member, kind, subject, name, did, words, before, after }) => (
            <li
              key={id}
              className="grid grid-cols-1 gap-x-3 md:grid-cols-[9rem_minmax(0,1fr)] border-b border-line px-4 py-2.5 last:border-0"
            >
              <time className="text-soft" dateTime={new Date(at).toISOString()}>
                {new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
              </time>
              <div className="min-w-0 wrap-anywhere">
                <p>
                  {kind !== 'setup' && `${kind.charAt(0).toUpperCase()}${kind.slice(1)} `}
                  {PLACE[kind] && did !== 'deleted' ? (
                    <Link className="font-semibold underline decoration-line underline-offset-4" href={`${PLACE[kind]}${subject}`}>
                      {name}
                    </Link>
                  ) : (
                    <b>{kind === 'setup' ? `${name.charAt(0).toUpperCase()}${name.slice(1)}` : name}</b>
                  )}{' '}
                  {did} <span className="text-soft">{member === null ? 'by itself' : `by ${member}`}</span>
                </p>
                {words.length > 0 && <p className="text-soft">It {words.join('; ')}.</p>}
                {(before ?? after) !== undefined && (
                  <details className="text-soft">
                    <summary className="cursor-pointer">What it was and is</summary>
                    <div className="mt-1 grid grid-cols-1 gap-3 md:grid-cols-2">
                      {[before, after].map((text, side) => (
                        <pre key={side} className="min-w-0 rounded border border-line bg-bone p-2 font-mono text-xs whitespace-pre-wrap">
                          {text ?? 'nothing'}
                        </pre>
                      ))}
                    </div>
                  </details>
                )}
              </div>
            </li>
          ))}
        </ol>
      )}
      {older !== undefined && (
        <Link className="act-quiet w-fit" href={`/setup/log?${new URLSearchParams({ ...(query ? { q: query } : {}), before: older })}`}>
          Older changes
        </Link>
      )}
    </div>
  );
}
