'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { Claim, FoundBy } from '@/server/privacy/find';
import { addressOf, call } from '../parts/net/call';
import { OneOf } from '../messages/Phrase';

/** How somebody is found, in words. */
export const BY: readonly (readonly [FoundBy, string])[] = [
  ['email', 'email'],
  ['customer', 'customer id'],
  ['browser', 'browser’s id'],
];

interface OnRecord {
  readonly visitors: readonly number[];
  readonly emails: readonly string[];
  readonly claims: readonly Claim[];
  readonly rows: Readonly<Record<string, number>>;
}

/** One of it, and several. */
const ROWS: Readonly<Record<string, readonly [string, string]>> = {
  visitor: ['browser', 'browsers'],
  visitor_change: ['trait, tag or name', 'traits, tags and names'],
  visit: ['visit', 'visits'],
  page_view: ['page looked at', 'pages looked at'],
  signal_piece: ['piece of what was done there', 'pieces of what was done there'],
  event: ['event', 'events'],
  mention: ['event of somebody else that named them', 'events of others that named them'],
  showing: ['message shown', 'messages shown'],
  outcome: ['answer to a message', 'answers to messages'],
  flow_step: ['message that came next', 'messages that came next'],
  lead: ['lead', 'leads'],
  delivery: ['sending to a connection', 'sendings to connections'],
  thread: ['conversation', 'conversations'],
  line: ['line of one', 'lines of them'],
  line_picture: ['picture', 'pictures'],
};

/** "1 browser, 3 visits" */
export const tableWords = (rows: Readonly<Record<string, number>>): string =>
  Object.entries(rows)
    .map(([table, count]) => `${count.toLocaleString('en-GB')} ${ROWS[table]?.[count === 1 ? 0 : 1] ?? table}`)
    .join(', ');

const takenIn = ({ claims, visitors }: OnRecord): number[] => claims.map(({ visitor }) => visitor).filter((one) => visitors.includes(one));

/** What is on record of one person: looked up, given out, erased. */
export function OnePerson({ begun }: { begun: { by: FoundBy; value: string } | undefined }) {
  const router = useRouter();
  const [by, setBy] = useState<FoundBy>(begun?.by ?? 'email');
  const [value, setValue] = useState(begun?.value ?? '');
  const [error, setError] = useState<string>();
  const [found, setFound] = useState<{ by: FoundBy; value: string; record: OnRecord; taken: readonly number[] }>();
  const [isSure, setIsSure] = useState(false);
  const [receipt, setReceipt] = useState<{ rows: Readonly<Record<string, number>>; told: readonly string[] }>();
  const look = async (): Promise<void> => {
    setReceipt(undefined);
    setFound(undefined);
    setIsSure(false);
    const result = await call('GET /api/privacy/person', { query: { by, value } });
    setError(result.ok ? undefined : result.message);
    if (result.ok) setFound({ by, value, record: result.value, taken: takenIn(result.value) });
  };
  const take = async (claims: readonly number[]): Promise<void> => {
    if (!found) return;
    setIsSure(false);
    // The tick is there at once, what goes along with it a little later.
    setFound({ ...found, taken: claims });
    const result = await call('GET /api/privacy/person', { query: { by: found.by, value: found.value, claims: claims.join() } });
    setError(result.ok ? undefined : result.message);
    if (result.ok) setFound((now) => (now?.taken === claims ? { ...now, record: result.value } : now));
  };
  const taken = found?.taken ?? [];
  const erase = async (): Promise<void> => {
    if (!found) return;
    const result = await call('POST /api/privacy/erasures', { body: { by: found.by, value: found.value, claims: taken } });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    setFound(undefined);
    setReceipt(result.value);
    router.refresh();
  };
  const hasRows = found !== undefined && Object.keys(found.record.rows).length > 0;
  const isThere = found !== undefined && (hasRows || found.record.claims.length > 0);
  return (
    <form
      className="sheet grid gap-3 p-5"
      aria-label="One person"
      onSubmit={(event) => {
        event.preventDefault();
        void look();
      }}
    >
      <h2 className="text-lg font-bold">One person</h2>
      <p className="flex flex-wrap items-baseline gap-2">
        Whoever has the <OneOf label="Found by" value={by} options={BY} onChange={setBy} />
        <input
          className="field min-w-48 flex-1"
          aria-label="Which"
          maxLength={320}
          value={value}
          onChange={({ target }) => setValue(target.value)}
        />
        <button className="act-quiet" disabled={value.trim() === ''}>
          Look
        </button>
      </p>
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
      {found && !isThere && <p role="status">Nobody is on record by that.</p>}
      {found && isThere && (
        <div role="status" className="grid gap-2">
          <p>
            {found.record.visitors.length === 0
              ? 'No browser'
              : found.record.visitors.length === 1
                ? 'One browser'
                : `${found.record.visitors.length} browsers`}
            {found.record.emails.length > 0 && `, ${found.record.emails.join(', ')}`}:{' '}
            {hasRows ? tableWords(found.record.rows) : 'nothing that is surely theirs'}.
          </p>
          <Claims claims={found.record.claims} taken={taken} onTake={(claims) => void take(claims)} />
          {hasRows && (
            <p className="flex flex-wrap gap-3">
              <a
                className="act-quiet"
                href={addressOf('GET /person.json', { query: { by: found.by, value: found.value, claims: taken.join() } })}
                download
              >
                Everything as JSON
              </a>
              {isSure ? (
                <>
                  <button type="button" className="act-quiet text-danger" onClick={() => void erase()}>
                    Yes: it cannot be brought back
                  </button>
                  <button type="button" className="act-quiet" onClick={() => setIsSure(false)}>
                    Keep them
                  </button>
                </>
              ) : (
                <button type="button" className="act-quiet text-danger" onClick={() => setIsSure(true)}>
                  Erase them for good
                </button>
              )}
            </p>
          )}
        </div>
      )}
      {receipt && (
        <p role="status">
          Erased: {tableWords(receipt.rows)}.{' '}
          {receipt.told.length > 0
            ? `${receipt.told.join(', ')} ${receipt.told.length === 1 ? 'is' : 'are'} asked to do the same.`
            : 'No connection had them.'}{' '}
          The receipt stays below.
        </p>
      )}
    </form>
  );
}

const dayWords = (at: number): string =>
  new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });

/** Browsers that say so without a signature, each of which is taken for theirs or not. */
function Claims({
  claims,
  taken,
  onTake,
}: {
  claims: readonly Claim[];
  taken: readonly number[];
  onTake: (claims: readonly number[]) => void;
}) {
  if (claims.length === 0) return null;
  return (
    <fieldset className="grid gap-1">
      <legend className="mb-1 text-soft">
        {claims.length === 1 ? 'One browser says' : `${claims.length} browsers say`} so without a signature, as anybody can. Which are
        theirs?
      </legend>
      {claims.map(({ visitor, firstSeen, lastSeen, visits, also }) => (
        <label key={visitor} className="flex gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={taken.includes(visitor)}
            onChange={({ target }) => onTake(target.checked ? [...taken, visitor] : taken.filter((one) => one !== visitor))}
          />
          <span>
            Visitor {visitor}, {visits === 1 ? '1 visit' : `${visits} visits`}, {dayWords(firstSeen)}
            {dayWords(lastSeen) !== dayWords(firstSeen) && ` to ${dayWords(lastSeen)}`}
            {also.length > 0 && (
              <span className="block text-soft">It says to be {also.join(', ')}, too: with it goes what they did there.</span>
            )}
          </span>
        </label>
      ))}
    </fieldset>
  );
}
