'use client';

import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { ChevronRight } from 'lucide-react';
import Link from 'next/link';
import type { Family } from '@/core/rules/describe';
import type { ReasonNode } from '@/core/rules/explain';
import type { Why } from '@/server/visitors/why';
import { fetched } from '../parts/net/call';
import { clockWords } from '../ribbon/layout';
import type { Instant } from './instants';

const FAMILIES: readonly Family[] = ['people', 'pages', 'moment', 'pacing'];
const VALUE_WORDS = { true: 'yes', false: 'no', null: 'not known' } as const;

/** At an instant, for every campaign: does it show, and if not, the first reason why; the whole tree unfolds. */
export function WhyPanel({ visitor, instant, onStep }: { visitor: number; instant: Instant | undefined; onStep: (by: number) => void }) {
  const { data, error, isFetching } = useQuery<Why[]>({
    queryKey: ['why', visitor, instant?.view, instant?.t],
    enabled: instant !== undefined,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      if (!instant) return [];
      return fetched('GET /api/visitors/{id}/why', {
        params: { id: visitor },
        query: { view: instant.view, t: instant.t },
        signal,
      });
    },
  });
  if (!instant) return <p className="text-soft">Choose an instant.</p>;
  return (
    <section aria-label="Why, at this instant" className="grid content-start gap-3" aria-busy={isFetching}>
      <div className="flex items-start gap-2">
        <p className="min-w-0 flex-1">
          <b className="font-display text-lg">
            {clockWords(instant.t)} on <span className="break-all font-mono text-[14px]">{instant.path}</span>
          </b>
          <span className="block text-soft">{instant.words}</span>
        </p>
        <button className="act-quiet" aria-label="The instant before" onClick={() => onStep(-1)}>
          ‹
        </button>
        <button className="act-quiet" aria-label="The instant after" onClick={() => onStep(1)}>
          ›
        </button>
      </div>
      {error && (
        <p role="alert" className="text-danger">
          {error.message}
        </p>
      )}
      {!data && !error && <div className="skeleton h-48" role="status" aria-label="Looking for the reasons" />}
      <ul className="grid gap-2">
        {[...(data ?? [])]
          .sort((a, b) => rank(b) - rank(a))
          .map((why) => (
            <Campaign key={why.campaign} why={why} />
          ))}
      </ul>
      {data && <p className="text-xs text-soft">By the rules as they are now, over what was on record at that instant.</p>}
    </section>
  );
}

const rank = ({ shown, explanation: { value, cause } }: Why): number =>
  (shown.length ? 10 : 0) + (value === true ? 8 : value === null ? 4 : 0) + (cause ? FAMILIES.indexOf(cause.family) : 5);

function Campaign({ why: { campaign, name, status, explanation, shown } }: { why: Why }) {
  const { value, cause } = explanation;
  return (
    <li className="sheet p-3">
      <Disclosure>
        <DisclosureButton className="group flex w-full items-start gap-2 text-left">
          <ChevronRight size={16} aria-hidden="true" className="mt-0.5 shrink-0 group-data-open:rotate-90" />
          <span className="min-w-0 flex-1">
            <b>{name}</b> <span className="text-soft">{status}</span>
            <span className="block">
              {value === true && <span className="font-semibold text-pine">shows at this instant</span>}
              {value !== true && cause && (
                <>
                  <span className={`phrase phrase-${cause.family}`}>{cause.node.asked ?? 'everyone'}</span>{' '}
                  <span className="text-soft">
                    {value === null ? 'is not known' : 'is not so'}
                    {cause.node.found ? `: ${cause.node.found}` : ''}
                  </span>
                </>
              )}
            </span>
            {shown.map(({ at, isSeen }) => (
              <span key={at} className="block text-soft">
                {isSeen ? 'It showed in this page view.' : 'It was due in this page view and held out, to compare.'}
              </span>
            ))}
          </span>
        </DisclosureButton>
        <DisclosurePanel className="mt-2 grid gap-2 pl-6">
          {FAMILIES.map((family) => (
            <div key={family}>
              <p className={`phrase phrase-${family} mb-1`}>{family}</p>
              <Tree node={explanation[family]} />
            </div>
          ))}
          <Link className="underline" href={`/campaigns/${campaign}`}>
            Open the campaign
          </Link>
        </DisclosurePanel>
      </Disclosure>
    </li>
  );
}

/** A node of the rule with what was found; each says in words whether it holds. */
function Tree({ node }: { node: ReasonNode }) {
  const words = VALUE_WORDS[String(node.value) as keyof typeof VALUE_WORDS];
  const mark = node.value === true ? 'text-pine' : node.value === false ? 'text-danger' : 'text-soft';
  if (!node.parts?.length && !node.asked) return null;
  return (
    <div className="text-[13px]">
      <p className="flex gap-2">
        <span className={`w-16 shrink-0 ${mark}`}>{words}</span>
        <span className="min-w-0">
          {node.asked ?? (node.join === 'all' ? 'all of' : node.join === 'any' ? 'any of' : 'none of')}
          {node.found ? <span className="block break-words text-soft">{node.found}</span> : null}
        </span>
      </p>
      {node.parts && node.parts.length > 0 && (
        <div className="ml-2 border-l border-line pl-2">
          {node.parts.map((part, index) => (
            <Tree key={index} node={part} />
          ))}
        </div>
      )}
    </div>
  );
}
