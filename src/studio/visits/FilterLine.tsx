'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { VisitTerm } from '@/core/visits/filter';
import { useRecorded } from '../rule/recorded';
import type { Completion } from './completions';
import { completionsFor, termWords } from './completions';

/** Terms typed one after the other, each completed from what the site has recorded; Backspace in the empty line takes the last away. */
export function FilterLine({
  terms,
  onChange,
}: {
  terms: readonly VisitTerm[];
  onChange: (update: (terms: readonly VisitTerm[]) => readonly VisitTerm[]) => void;
}) {
  const recorded = useRecorded();
  const [typed, setTyped] = useState('');
  const offered = useMemo(() => completionsFor(typed, recorded), [typed, recorded]);
  const nameOf = (id: string): string =>
    [...recorded.segments, ...recorded.campaigns, ...recorded.sets, ...recorded.places].find((one) => one.id === id)?.name ?? id;
  const isSame = (one: VisitTerm, other: VisitTerm): boolean => one.kind === other.kind && one.value === other.value;
  return (
    <div className="mb-3 flex min-h-10 flex-wrap items-center gap-x-2 gap-y-1 rounded border border-edge bg-paper px-3 py-1 focus-within:outline-2 focus-within:outline-offset-1 focus-within:outline-pine">
      <span className="text-soft">Visits that</span>
      {terms.map((term) => (
        <span key={term.kind + term.value} className="flex items-center gap-0.5">
          <span className={`phrase ${term.kind === 'page' ? 'phrase-pages' : 'phrase-people'}`}>{termWords(term, nameOf)}</span>
          <button
            className="grid h-6 w-6 place-items-center rounded text-soft hover:bg-bone hover:text-ink"
            aria-label={`Without “${termWords(term, nameOf)}”`}
            onClick={() => onChange((now) => now.filter((one) => !isSame(one, term)))}
          >
            <X size={13} aria-hidden />
          </button>
        </span>
      ))}
      <Combobox<Completion | null>
        value={null}
        immediate
        onChange={(picked) => {
          if (!picked) return;
          setTyped('');
          onChange((now) => (now.some((one) => isSame(one, picked.term)) ? now : [...now, picked.term]));
        }}
      >
        <ComboboxInput
          data-filter
          aria-label="Filter visits"
          className="min-w-48 flex-1 border-0 bg-transparent py-1 outline-none"
          placeholder={terms.length ? 'and …' : 'a page they saw, a source, a town, over 2 min …'}
          autoComplete="off"
          displayValue={() => typed}
          value={typed}
          maxLength={300}
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Backspace' && typed === '') onChange((now) => now.slice(0, -1));
          }}
        />
        <ComboboxOptions anchor={{ to: 'bottom start', gap: 8 }} className="z-40 w-[420px] sheet p-1 shadow-lg empty:invisible">
          {offered.map((one) => (
            <ComboboxOption
              key={one.term.kind + one.term.value}
              value={one}
              className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-1 data-focus:bg-bone"
            >
              <span className={`truncate ${one.term.kind === 'page' ? 'text-pages' : 'text-people'}`}>{one.words}</span>
              <span className="ml-auto shrink-0 text-xs text-soft">{one.note}</span>
            </ComboboxOption>
          ))}
          {offered.length === 0 && (
            <p className="px-3 py-2 text-soft">
              Nothing recorded is called so. Try a path, a source, a town, “phone”, “converted” or “2 min”.
            </p>
          )}
        </ComboboxOptions>
      </Combobox>
      {terms.length > 1 && (
        <button className="text-soft underline hover:text-ink" onClick={() => onChange(() => [])}>
          all visits
        </button>
      )}
    </div>
  );
}
