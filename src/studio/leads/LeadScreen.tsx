'use client';

import Link from 'next/link';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useCallback, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { LeadTerm } from '@/core/leads/filter';
import { leadTerms, leadTermWords } from '@/core/leads/filter';
import type { LeadVocabulary } from '@/core/leads/offers';
import { leadOffers } from '@/core/leads/offers';
import { issueWords } from '@/core/parsing/parse';
import type { Given } from '../parts/net/call';
import { addressOf, call } from '../parts/net/call';
import { Empty } from '../parts/layout/Empty';
import { ScreenHead } from '../parts/layout/ScreenHead';
import { TermLine } from '../parts/TermLine';

export interface LeadRow {
  readonly id: string;
  readonly email: string | null;
  readonly answers: string;
  readonly campaign: string;
  readonly path: string;
  readonly agreed: boolean;
  readonly tags: readonly string[];
  /** UTC ms. */
  readonly at: number;
}

/** Leads behind a typed filter that stands in the address; several at once can be tagged or erased. */
export function LeadScreen({
  leads,
  count,
  older,
  isFirst,
  vocabulary,
}: {
  leads: readonly LeadRow[];
  count: number;
  /** Id of the last lead here, where there are older ones. */
  older: string | undefined;
  isFirst: boolean;
  vocabulary: LeadVocabulary;
}) {
  const parameters = useSearchParams();
  const path = usePathname();
  const router = useRouter();
  const { terms, issues } = useMemo(() => leadTerms(parameters), [parameters]);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const query = (given: readonly LeadTerm[]): string => new URLSearchParams(given.map(({ kind, value }) => [kind, value])).toString();
  const nameOf = (id: string): string => vocabulary.campaigns.find((one) => one.id === id)?.name ?? id;
  const offer = useCallback((typed: string) => leadOffers(typed, vocabulary), [vocabulary]);
  const change = (update: (terms: readonly LeadTerm[]) => readonly LeadTerm[]): void => {
    setChosen(new Set());
    router.push(`${path}?${query(update(leadTerms(new URLSearchParams(window.location.search)).terms))}`);
  };
  const picked = leads.filter(({ id }) => chosen.has(id));
  const choose = (ids: readonly string[], is: boolean): void =>
    setChosen((before) => {
      const next = new Set(before);
      for (const id of ids)
        if (is) next.add(id);
        else next.delete(id);
      return next;
    });
  return (
    <div className="p-6">
      <ScreenHead title="Leads" note={count === 1 ? '1 lead' : `${count.toLocaleString('en')} leads`}>
        <a className="act-quiet" href={addressOf('GET /leads.csv', { more: query(terms) })} download>
          Export CSV
        </a>
        <a className="act-quiet" href={addressOf('GET /leads.jsonl', { more: query(terms) })} download>
          JSON lines
        </a>
      </ScreenHead>
      <TermLine
        what="Leads"
        label="Filter leads"
        placeholder="a campaign, a page, a tag, an answer, an email …"
        none="Nothing is called so."
        all="all leads"
        terms={terms}
        offer={offer}
        wordsOf={(term) => leadTermWords(term, nameOf)}
        isPage={({ kind }) => kind === 'page'}
        onChange={change}
      />
      {issues.length > 0 && (
        <p role="alert" className="mb-3 text-danger">
          Left out of the filter: {issues.map(issueWords).join('; ')}.
        </p>
      )}
      {leads.length === 0 ? (
        <Empty
          title={terms.length > 0 ? 'No lead meets all of this' : 'No leads yet'}
          action={
            <Link className="act" href={terms.length > 0 ? '/leads' : '/campaigns'}>
              {terms.length > 0 ? 'Show all leads' : 'Make a campaign with a form'}
            </Link>
          }
        >
          When a visitor sends a form in one of your messages, their answer lands here with the page it came from and what they agreed to,
          and can be exported as CSV.
        </Empty>
      ) : (
        <div className="sheet">
          {picked.length > 0 && (
            <Together
              ids={picked.map(({ id }) => id)}
              onDone={() => {
                setChosen(new Set());
                router.refresh();
              }}
            />
          )}
          <div className="overflow-x-auto">
            <table className="list">
              <thead>
                <tr>
                  <th className="w-8">
                    <input
                      type="checkbox"
                      aria-label="Choose all leads here"
                      checked={picked.length === leads.length}
                      onChange={({ target }) =>
                        choose(
                          leads.map(({ id }) => id),
                          target.checked,
                        )
                      }
                    />
                  </th>
                  <th>Email</th>
                  <th>Answers</th>
                  <th>Came from</th>
                  <th>Page</th>
                  <th>When</th>
                </tr>
              </thead>
              <tbody>
                {leads.map(({ id, email, answers, campaign, path: page, agreed, tags, at }) => (
                  <tr key={id} className="hover:bg-bone">
                    <td>
                      <input
                        type="checkbox"
                        aria-label={`Choose ${email ?? answers}`}
                        checked={chosen.has(id)}
                        onChange={({ target }) => choose([id], target.checked)}
                      />
                    </td>
                    <td className="max-w-72 truncate">
                      <Link data-row className="font-semibold hover:underline" href={`/leads/${id}`}>
                        {email ?? 'no email'}
                      </Link>
                      {tags.length > 0 && <span className="ms-2 text-soft">{tags.join(', ')}</span>}
                    </td>
                    <td className="max-w-72 truncate">
                      {answers} {agreed && <span className="text-soft">· agreed</span>}
                    </td>
                    <td className="max-w-60 truncate">{campaign}</td>
                    <td className="max-w-60 truncate font-mono text-[13px]">{page}</td>
                    <td className="whitespace-nowrap">
                      {new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {(!isFirst || older) && (
            <nav aria-label="Pages of leads" className="flex gap-4 p-3">
              {!isFirst && (
                <Link className="act-quiet" href={`/leads?${query(terms)}`}>
                  Newest
                </Link>
              )}
              {older && (
                <Link
                  className="act-quiet"
                  href={`/leads?${new URLSearchParams([...terms.map(({ kind, value }) => [kind, value]), ['after', older]])}`}
                >
                  Older
                </Link>
              )}
            </nav>
          )}
        </div>
      )}
    </div>
  );
}

/** What is done to all that are chosen. */
function Together({ ids, onDone }: { ids: readonly string[]; onDone: () => void }) {
  const [tag, setTag] = useState('');
  const [isSure, setIsSure] = useState(false);
  const leads = ids.length === 1 ? 'one lead' : `${ids.length} leads`;
  const act = async (body: Given<'POST /api/leads'>['body'], done: (leads: number) => string): Promise<void> => {
    const result = await call('POST /api/leads', { body });
    if (!result.ok) return void toast.error(result.message);
    toast(done(result.value.leads));
    onDone();
  };
  return (
    <div role="group" aria-label="Chosen leads" className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2">
      <b>{leads} chosen</b>
      <form
        className="flex items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (tag.trim()) void act({ does: 'tag', ids, tag: tag.trim() }, (count) => `${count} tagged ${tag.trim()}`);
        }}
      >
        <input
          aria-label="Tag for the chosen leads"
          className="field w-40"
          placeholder="a tag"
          maxLength={100}
          value={tag}
          onChange={({ target }) => setTag(target.value)}
        />
        <button className="act-quiet" disabled={!tag.trim()}>
          Tag
        </button>
      </form>
      {isSure ? (
        <>
          <span>What was written is gone for good. That forms were sent is still counted in results, and their visitors stay.</span>
          <button className="act-quiet text-danger" onClick={() => void act({ does: 'erase', ids }, (count) => `${count} erased`)}>
            Erase {leads}
          </button>
          <button className="act-quiet" onClick={() => setIsSure(false)}>
            Keep them
          </button>
        </>
      ) : (
        <button className="act-quiet" onClick={() => setIsSure(true)}>
          Erase …
        </button>
      )}
    </div>
  );
}
