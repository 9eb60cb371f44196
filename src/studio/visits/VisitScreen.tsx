'use client';

import { useQuery } from '@tanstack/react-query';
import { usePathname, useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import { issueWords } from '@/core/parsing/parse';
import type { VisitTerm } from '@/core/visits/filter';
import { termsFromParameters } from '@/core/visits/filter';
import { ScreenHead } from '../parts/layout/ScreenHead';
import { FilterLine } from './FilterLine';
import type { VisitPage } from './VisitList';
import { askVisits, VisitList } from './VisitList';
import { counted } from '../parts/counted';

const LOOK_EVERY_MS = 15_000;

/** Recorded visits behind a typed filter that stands in the address. */
export function VisitScreen({ asOf: openedAt, total }: { asOf: number; total: { visits: number; visitors: number } }) {
  const parameters = useSearchParams();
  const path = usePathname();
  const { terms, issues } = useMemo(() => termsFromParameters(parameters), [parameters]);
  const [asOf, setAsOf] = useState(openedAt);
  const query = new URLSearchParams(terms.map(({ kind, value }) => [kind, value])).toString();
  const change = (update: (terms: readonly VisitTerm[]) => readonly VisitTerm[]): void => {
    // From the address as it is now: what is drawn may be a keystroke behind it.
    const next = update(termsFromParameters(new URLSearchParams(window.location.search)).terms);
    const wanted = new URLSearchParams(next.map(({ kind, value }) => [kind, value])).toString();
    window.history.pushState(null, '', wanted ? `${path}?${wanted}` : path);
  };
  const first = useQuery<VisitPage>({
    queryKey: ['visits', query, asOf, 0],
    queryFn: ({ signal }) => askVisits({ query, asOf, from: 0, signal }),
  });
  // The list stays as it is under one's hands; what has come since is told.
  const later = useQuery({
    queryKey: ['visits since', query, asOf],
    enabled: first.data !== undefined,
    refetchInterval: LOOK_EVERY_MS,
    queryFn: async ({ signal }) => {
      const now = Date.now();
      return { now, visits: (await askVisits({ query, asOf: now, from: 0, count: 0, signal })).visits };
    },
  });
  const newer = later.data && first.data ? later.data.visits - first.data.visits : 0;
  const words = (count: number): string => count.toLocaleString('en-GB');
  return (
    <div className="p-6">
      <ScreenHead
        title="Visits"
        note={
          first.data && terms.length
            ? `${words(first.data.visits)} of ${counted(total.visits, 'visit')}, by ${words(first.data.visitors)} of ${counted(total.visitors, 'visitor')}`
            : `${counted(total.visits, 'visit')} of ${counted(total.visitors, 'visitor')}`
        }
      >
        {newer > 0 && later.data && (
          <button className="act-quiet" onClick={() => setAsOf(later.data.now)}>
            {newer === 1 ? '1 newer visit' : `${words(newer)} newer visits`}
          </button>
        )}
      </ScreenHead>
      <FilterLine terms={terms} onChange={change} />
      {issues.length > 0 && (
        <p role="alert" className="mb-3 text-danger">
          Left out of the filter: {issues.map(issueWords).join('; ')}.
        </p>
      )}
      {first.error ? (
        <p role="alert" className="sheet p-5 text-danger">
          {first.error.message}{' '}
          <button className="underline" onClick={() => void first.refetch()}>
            Try again
          </button>
        </p>
      ) : !first.data ? (
        <div className="skeleton h-[560px]" role="status" aria-label="Reading the visits" />
      ) : first.data.visits === 0 ? (
        <p className="sheet p-6 text-soft">
          No recorded visit meets all of this.{' '}
          {terms.length > 1 && (
            <button className="underline hover:text-ink" onClick={() => change((now) => now.slice(0, -1))}>
              Take the last term away
            </button>
          )}
        </p>
      ) : (
        <VisitList key={query + asOf} query={query} asOf={asOf} first={first.data} />
      )}
    </div>
  );
}
