'use client';

import { useCallback } from 'react';
import type { VisitTerm } from '@/core/visits/filter';
import { TermLine } from '../parts/TermLine';
import { useRecorded } from '../rule/recorded';
import { completionsFor, termWords } from './completions';

/** What of the recorded visits is shown, typed term by term and completed from what the site has recorded. */
export function FilterLine({
  terms,
  onChange,
}: {
  terms: readonly VisitTerm[];
  onChange: (update: (terms: readonly VisitTerm[]) => readonly VisitTerm[]) => void;
}) {
  const recorded = useRecorded();
  const offer = useCallback((typed: string) => completionsFor(typed, recorded), [recorded]);
  const nameOf = (id: string): string =>
    [...recorded.segments, ...recorded.campaigns, ...recorded.sets, ...recorded.places].find((one) => one.id === id)?.name ?? id;
  return (
    <TermLine
      what="Visits that"
      label="Filter visits"
      placeholder="a page they saw, a source, a town, over 2 min …"
      none="Nothing recorded is called so. Try a path, a source, a town, “phone”, “converted” or “2 min”."
      all="all visits"
      terms={terms}
      offer={offer}
      wordsOf={(term) => termWords(term, nameOf)}
      isPage={({ kind }) => kind === 'page'}
      onChange={onChange}
    />
  );
}
