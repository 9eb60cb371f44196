'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { commaList } from '@/core/parsing/commaList';
import type { RecordedVisit } from '@/server/db/visits';
import { call } from '../parts/net/call';
import { SaveNote } from '../parts/saving/SaveNote';
import { useAutosave } from '../parts/saving/useAutosave';
import { RibbonList } from '../ribbon/RibbonList';

export interface LeadDetails {
  readonly id: string;
  readonly email: string | null;
  /** What was asked, and what was answered. */
  readonly answers: readonly { readonly asked: string; readonly answer: string }[];
  readonly agreed: readonly string[];
  /** When they took that back, UTC ms. */
  readonly withdrawnAt: number | null;
  readonly campaign: { readonly id: string; readonly name: string; readonly isHere: boolean };
  readonly message: string | null;
  readonly release: number | null;
  readonly url: string;
  readonly visitor: number | null;
  /** Of the page view, and into it in ms. */
  readonly instant: { readonly view: string; readonly t: number } | null;
  readonly tags: readonly string[];
  readonly note: string;
  /** UTC ms. */
  readonly at: number;
  readonly sent: readonly {
    readonly to: string;
    readonly state: 'waiting' | 'sent' | 'failed';
    readonly reason: string;
    readonly at: number;
  }[];
  readonly others: readonly { readonly id: string; readonly at: number; readonly campaign: string; readonly email: string | null }[];
}

const when = (at: number): string =>
  new Date(at).toLocaleString('en-GB', { weekday: 'long', day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' });

/** One lead: what was answered and agreed to, where it came from, what the team says of it, and the same person's others. */
export function LeadCard({ lead, visits, sections }: { lead: LeadDetails; visits: readonly RecordedVisit[]; sections: readonly string[] }) {
  const { campaign, message, release, url, visitor, instant } = lead;
  const path = URL.canParse(url) ? new URL(url).pathname : url;
  const link = 'underline decoration-line underline-offset-4 hover:text-ink';
  return (
    <div className="grid grid-cols-1 gap-4 p-6">
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 className="text-2xl font-bold">{lead.email ?? 'A lead without an email'}</h1>
        <p className="text-soft">{when(lead.at)}</p>
        <EraseOne id={lead.id} />
      </header>
      <p>
        Came from{' '}
        {campaign.isHere ? (
          <Link className={link} href={`/campaigns/${campaign.id}`}>
            {campaign.name}
          </Link>
        ) : (
          campaign.name
        )}
        {message !== null && <>, its message “{message}”</>} on <span className="font-mono text-[13px]">{path}</span>
        {release !== null && <>, under release {release}</>}.{' '}
        {visitor === null ? (
          'Who sent it has been erased.'
        ) : (
          <Link
            className={link}
            href={`/visitors/${visitor}${instant ? `?${new URLSearchParams({ view: instant.view, t: String(instant.t) })}` : ''}`}
          >
            Visitor {visitor}, at that instant
          </Link>
        )}
      </p>
      <div className="grid gap-4 lg:grid-cols-2">
        <section className="sheet p-5" aria-labelledby="answers">
          <h2 id="answers" className="mb-2 font-bold">
            Answers
          </h2>
          {lead.answers.length === 0 ? (
            <p className="text-soft">Nothing but the email was asked.</p>
          ) : (
            <dl className="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)] gap-x-4 gap-y-1">
              {lead.answers.map(({ asked, answer }) => (
                <div key={asked} className="contents">
                  <dt className="text-soft">{asked}</dt>
                  <dd className="break-words">{answer}</dd>
                </div>
              ))}
            </dl>
          )}
          <h2 className="mt-4 mb-2 font-bold">Agreed to</h2>
          {lead.agreed.length === 0 ? (
            <p className="text-soft">Nothing was agreed to in it.</p>
          ) : (
            <ul>
              {lead.agreed.map((words) => (
                <li key={words} className={lead.withdrawnAt === null ? '' : 'text-soft line-through'}>
                  “{words}”
                </li>
              ))}
            </ul>
          )}
          {lead.agreed.length > 0 && <Withdrawal id={lead.id} at={lead.withdrawnAt} />}
        </section>
        {lead.sent.length > 0 && (
          <section className="sheet p-5 lg:order-3" aria-labelledby="sent">
            <h2 id="sent" className="mb-2 font-bold">
              Sent on
            </h2>
            <ul className="grid gap-1">
              {lead.sent.map(({ to, state, reason, at }) => (
                <li key={to}>
                  <b>{to}</b>:{' '}
                  <span className={state === 'failed' ? 'text-danger' : 'text-soft'}>
                    {state === 'sent'
                      ? `arrived ${when(at)}`
                      : state === 'failed'
                        ? `failed for good, ${reason}`
                        : `waits until ${when(at)}${reason ? `, ${reason}` : ''}`}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
        <Notes id={lead.id} tags={lead.tags} note={lead.note} />
      </div>
      {visits.length > 0 && (
        <section aria-label="The visit">
          <RibbonList visits={visits} sections={sections} />
        </section>
      )}
      {lead.others.length > 0 && (
        <section className="sheet p-5" aria-labelledby="others">
          <h2 id="others" className="mb-2 font-bold">
            From the same person
          </h2>
          <ul className="grid gap-1">
            {lead.others.map(({ id, at, campaign: from, email }) => (
              <li key={id} className="flex flex-wrap gap-x-4">
                <Link className={`${link} font-semibold`} href={`/leads/${id}`}>
                  {from}
                </Link>
                <span>{email}</span>
                <span className="text-soft">{when(at)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** What the team says of it; kept as it is typed. */
function Notes({ id, tags: had, note: said }: { id: string; tags: readonly string[]; note: string }) {
  const [draft, setDraft] = useState({ tags: had.join(', '), note: said });
  const { state, retry } = useAutosave({
    draft,
    save: ({ tags, note }) =>
      call('PUT /api/leads/{id}', {
        params: { id },
        body: {
          tags: commaList(tags),
          note,
        },
      }),
  });
  return (
    <section className="sheet grid content-start gap-3 p-5" aria-labelledby="notes">
      <h2 id="notes" className="flex items-baseline gap-3 font-bold">
        Tags and notes
        <span className="font-normal">
          <SaveNote state={state} issues={[]} retry={retry} />
        </span>
      </h2>
      <label className="grid gap-1">
        <span className="text-soft">Tags, with commas</span>
        <input
          className="field"
          maxLength={2000}
          value={draft.tags}
          onChange={({ target }) => setDraft({ ...draft, tags: target.value })}
        />
      </label>
      <label className="grid gap-1">
        <span className="text-soft">Note</span>
        <textarea
          className="field min-h-28"
          maxLength={10_000}
          value={draft.note}
          onChange={({ target }) => setDraft({ ...draft, note: target.value })}
        />
      </label>
    </section>
  );
}

function EraseOne({ id }: { id: string }) {
  const router = useRouter();
  const [isSure, setIsSure] = useState(false);
  const erase = async (): Promise<void> => {
    const result = await call('POST /api/leads', { body: { does: 'erase', ids: [id] } });
    if (!result.ok) return void toast.error(result.message);
    router.push('/leads');
    router.refresh();
  };
  return (
    <span className="ms-auto flex items-center gap-3">
      {isSure && <span>What was written is gone for good. That a form was sent is still counted in results, and its visitor stays.</span>}
      <button className={`act-quiet ${isSure ? 'text-danger' : ''}`} onClick={() => (isSure ? void erase() : setIsSure(true))}>
        {isSure ? 'Erase it' : 'Erase …'}
      </button>
      {isSure && (
        <button className="act-quiet" onClick={() => setIsSure(false)}>
          Keep it
        </button>
      )}
    </span>
  );
}

/** Their consent is not what it was once they have said so, by mail or on the telephone. */
function Withdrawal({ id, at }: { id: string; at: number | null }) {
  const router = useRouter();
  const [isSure, setIsSure] = useState(false);
  if (at !== null) return <p className="mt-2">They took their consent back, {when(at)}.</p>;
  const withdraw = async (): Promise<void> => {
    const result = await call('POST /api/leads/{id}/withdrawn', { params: { id } });
    if (!result.ok) return void toast.error(result.message);
    router.refresh();
  };
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3">
      <button className="act-quiet" onClick={() => (isSure ? void withdraw() : setIsSure(true))}>
        {isSure ? 'They took it back' : 'They take it back …'}
      </button>
      {isSure && (
        <>
          <span className="text-soft">With all they agreed to until now; they are taken out wherever they were sent.</span>
          <button className="act-quiet" onClick={() => setIsSure(false)}>
            No
          </button>
        </>
      )}
    </p>
  );
}
