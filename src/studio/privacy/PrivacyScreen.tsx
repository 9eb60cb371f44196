'use client';

import { useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import type { FoundBy } from '@/server/privacy/find';
import type { Receipt } from '@/server/privacy/person';
import type { Mapped } from '@/server/privacy/dataMap';
import type { Kept } from '@/server/privacy/retention';
import { call, fetched } from '../parts/net/call';
import { BY, OnePerson, tableWords } from './OnePerson';

type ShownReceipt = Omit<Receipt, 'at'> & {
  /** UTC ms. */
  readonly at: number;
};

/** How long what is kept, what is on record of one person, and what a site may tell its visitors. */
export function PrivacyScreen({
  site,
  kept,
  receipts,
  map,
  isOwner,
  found,
}: {
  site: string;
  kept: Kept;
  receipts: readonly ShownReceipt[];
  map: readonly (readonly [table: string, mapped: Mapped])[];
  isOwner: boolean;
  /** Whom to begin with. */
  found: { by: FoundBy; value: string } | undefined;
}) {
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <div className="grid content-start gap-4">
        <HowLong kept={kept} isOwner={isOwner} />
        {isOwner && <OnePerson begun={found} />}
        <Receipts receipts={receipts} />
      </div>
      <div className="grid content-start gap-4">
        <Paragraph site={site} kept={kept} />
        <WhatIsStored map={map} />
      </div>
    </div>
  );
}

const KINDS = [
  ['visits', 'Visits, and visitors who were not seen since', 7],
  ['leads', 'Leads', 1],
  ['conversations', 'Conversations', 1],
] as const;

const daysOf = (text: string): number | null => (text.trim() === '' ? null : Number(text));

/** What saving would let go of, before it is saved. */
function WouldGo({ typed, kept }: { typed: Readonly<Record<keyof Kept, string>>; kept: Kept }) {
  const days = KINDS.map(([kind]) => [kind, daysOf(typed[kind])] as const);
  const isChanged = days.some(([kind, is]) => is !== kept[kind]);
  const isRight = days.every(([, is]) => is === null || (Number.isInteger(is) && is > 0));
  const query = Object.fromEntries(days.flatMap(([kind, is]) => (is === null ? [] : [[kind, String(is)]])));
  const { data } = useQuery({
    queryKey: ['would go', query],
    enabled: isChanged && isRight,
    queryFn: () => fetched('GET /api/privacy/kept', { query }),
  });
  if (!isChanged || !data) return null;
  const some = KINDS.flatMap(([kind]) =>
    data[kind] > 0 ? [`${data[kind].toLocaleString('en-GB')} ${data[kind] === 1 ? ONE[kind] : kind}`] : [],
  );
  return (
    <p role="status" className={some.length > 0 ? 'text-danger' : 'text-soft'}>
      {some.length > 0
        ? `Once saved, ${new Intl.ListFormat('en-GB').format(some)} will be deleted tonight, for good.`
        : 'Nothing that is on record now would go.'}
    </p>
  );
}
const ONE: Readonly<Record<keyof Kept, string>> = { visits: 'visit', leads: 'lead', conversations: 'conversation' };

function HowLong({ kept, isOwner }: { kept: Kept; isOwner: boolean }) {
  const router = useRouter();
  const [typed, setTyped] = useState(() => ({
    visits: String(kept.visits ?? ''),
    leads: String(kept.leads ?? ''),
    conversations: String(kept.conversations ?? ''),
  }));
  const [error, setError] = useState<string>();
  const save = async (): Promise<void> => {
    const result = await call('PUT /api/privacy/kept', {
      body: { visits: daysOf(typed.visits), leads: daysOf(typed.leads), conversations: daysOf(typed.conversations) },
    });
    setError(result.ok ? undefined : result.message);
    if (!result.ok) return;
    toast('Saved: what is older goes tonight');
    router.refresh();
  };
  return (
    <form
      className="sheet grid gap-3 p-5"
      aria-label="How long it is kept"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <h2 className="text-lg font-bold">How long it is kept</h2>
      <fieldset disabled={!isOwner} className="grid gap-2">
        {KINDS.map(([kind, label, least]) => (
          <label key={kind} className="flex flex-wrap items-center gap-2">
            <span className="min-w-64 flex-1">{label}</span>
            <input
              className="field w-24 text-end tabular-nums"
              inputMode="numeric"
              placeholder="always"
              maxLength={4}
              value={typed[kind]}
              onChange={({ target }) => setTyped({ ...typed, [kind]: target.value })}
              aria-describedby={`${kind}-days`}
            />
            <span id={`${kind}-days`} className="w-40 text-soft">
              days{least > 1 ? `, at least ${least}` : ''}
            </span>
          </label>
        ))}
      </fieldset>
      <p className="text-soft">
        Left empty, it stays until somebody erases it. Counts and rehearsals know what is kept, and no more. Results go on counting a form
        that was sent after what was written in it is gone; with a visit goes what came of it.
      </p>
      {isOwner && <WouldGo typed={typed} kept={kept} />}
      {error && (
        <p role="alert" className="text-danger">
          {error}
        </p>
      )}
      {isOwner && <button className="act justify-self-start">Save</button>}
    </form>
  );
}

function Receipts({ receipts }: { receipts: readonly ShownReceipt[] }) {
  return (
    <section className="sheet grid gap-2 p-5" aria-labelledby="receipts">
      <h2 id="receipts" className="text-lg font-bold">
        Receipts
      </h2>
      {receipts.length === 0 && <p className="text-soft">Nobody was erased yet.</p>}
      <ul className="grid gap-2">
        {receipts.map(({ id, at, by, foundBy, rows, told, owed }) => (
          <li key={id} className="border-b border-line pb-2 last:border-0">
            <b className="tabular-nums">
              {new Date(at).toLocaleString('en-GB', {
                day: 'numeric',
                month: 'short',
                year: 'numeric',
                hour: '2-digit',
                minute: '2-digit',
              })}
            </b>
            , by {by}, found by {BY.find(([one]) => one === foundBy)?.[1]}
            <span className="block text-soft">
              {tableWords(rows)}
              {told.filter((name) => !owed.some(({ connection }) => connection === name)).length > 0 &&
                `; told: ${told.filter((name) => !owed.some(({ connection }) => connection === name)).join(', ')}`}
              {owed.map(({ connection, tries, reason }, nth) => (
                <span key={nth} className="block text-danger">
                  {connection} has not let go of them yet:{' '}
                  {tries === 0 ? 'it has not been asked' : `asked ${tries === 1 ? 'once' : `${tries} times`}${reason && `, it ${reason}`}`}.
                  It is asked again until it does.
                </span>
              ))}
              <span className="block font-mono text-xs">{id}</span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What a site may put on its own page about privacy, in its own words. */
function Paragraph({ site, kept }: { site: string; kept: Kept }) {
  const long = (days: number | null, what: string): string =>
    days === null ? `${what} until you ask us to erase them` : `${what} for ${days} days`;
  const text =
    `${site} records how its pages are read on a server of its own: which pages a browser opens, how far they are read, where the visit came from, and which of our messages ` +
    `it was shown. The browser is told from others by a random number in its storage; the network address is used to tell the town and is not kept. We keep ` +
    `${long(kept.visits, 'visits')}, ${long(kept.leads, 'what you send us in a form')}, and ${long(kept.conversations, 'conversations')}. Browsers that ask not to be tracked (Global Privacy Control) are not recorded ` +
    `unless they agree. Write to us for a copy of what we have of you, or to have it erased.`;
  return (
    <section className="sheet grid gap-3 p-5" aria-labelledby="paragraph">
      <h2 id="paragraph" className="text-lg font-bold">
        A paragraph for your site
      </h2>
      <p className="rounded bg-bone p-3">{text}</p>
      <button
        className="act-quiet justify-self-start"
        onClick={() =>
          void navigator.clipboard.writeText(text).then(
            () => toast('Copied'),
            () => toast.error('The browser does not let this page copy; mark the text and copy it.'),
          )
        }
      >
        Copy it
      </button>
      <p className="text-soft">
        What is recorded without being asked stands under Script: there you choose whether visitors are recorded only once they agree. A
        browser that sends Global Privacy Control, or “do not track”, is never recorded before its visitor agrees. Your page says so by{' '}
        <code className="font-mono text-[13px]">crindle.consent(&apos;granted&apos;)</code> and{' '}
        <code className="font-mono text-[13px]">crindle.consent(&apos;denied&apos;)</code>; the latter erases what the browser has, and
        takes back what was agreed to in forms.
      </p>
    </section>
  );
}

function WhatIsStored({ map }: { map: readonly (readonly [table: string, mapped: Mapped])[] }) {
  return (
    <section className="sheet grid gap-2 p-5" aria-labelledby="stored">
      <h2 id="stored" className="text-lg font-bold">
        What is stored of visitors
      </h2>
      <dl className="grid gap-2">
        {map.map(([table, { what, kept }]) => (
          <div key={table} className="border-b border-line pb-2 last:border-0">
            <dt className="font-semibold">
              {table.replaceAll('_', ' ')} <span className="font-normal text-soft">kept as long as {kept}</span>
            </dt>
            <dd className="text-soft">{what}.</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
