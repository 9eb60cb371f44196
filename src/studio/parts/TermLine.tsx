'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { X } from 'lucide-react';
import { useMemo, useState } from 'react';

interface Term {
  readonly kind: string;
  readonly value: string;
}
export interface Offered<T extends Term> {
  readonly term: T;
  readonly words: string;
  readonly note: string;
}

/** Terms typed one after the other, each completed from what is offered for it; Backspace in the empty line takes the last away. */
export function TermLine<T extends Term>({
  what,
  label,
  placeholder,
  none,
  all,
  terms,
  offer,
  wordsOf,
  isPage,
  onChange,
}: {
  /** What the terms go on from: "Visits that". */
  what: string;
  label: string;
  placeholder: string;
  /** Said where nothing is offered. */
  none: string;
  /** What lets go of several terms. */
  all: string;
  terms: readonly T[];
  offer: (typed: string) => readonly Offered<T>[];
  wordsOf: (term: T) => string;
  isPage: (term: T) => boolean;
  onChange: (update: (terms: readonly T[]) => readonly T[]) => void;
}) {
  const [typed, setTyped] = useState('');
  const offered = useMemo(() => offer(typed), [typed, offer]);
  const isSame = (one: T, other: T): boolean => one.kind === other.kind && one.value === other.value;
  return (
    <div className="mb-3 flex min-h-10 flex-wrap items-center gap-x-2 gap-y-1 rounded border border-edge bg-paper px-3 py-1 focus-within:outline-2 focus-within:outline-offset-1 focus-within:outline-pine">
      <span className="text-soft">{what}</span>
      {terms.map((term) => (
        <span key={term.kind + term.value} className="flex items-center gap-0.5">
          <span className={`phrase ${isPage(term) ? 'phrase-pages' : 'phrase-people'}`}>{wordsOf(term)}</span>
          <button
            className="grid h-6 w-6 place-items-center rounded text-soft hover:bg-bone hover:text-ink"
            aria-label={`Without “${wordsOf(term)}”`}
            onClick={() => onChange((now) => now.filter((one) => !isSame(one, term)))}
          >
            <X size={13} aria-hidden />
          </button>
        </span>
      ))}
      <Combobox<Offered<T> | null>
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
          aria-label={label}
          className="min-w-48 flex-1 border-0 bg-transparent py-1 outline-none"
          placeholder={terms.length ? 'and …' : placeholder}
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
              key={`${one.term.kind} ${one.term.value} ${typed}`}
              value={one}
              className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-1 data-focus:bg-bone"
            >
              <span className={`truncate ${isPage(one.term) ? 'text-pages' : 'text-people'}`}>{one.words}</span>
              <span className="ml-auto shrink-0 text-xs text-soft">{one.note}</span>
            </ComboboxOption>
          ))}
          {offered.length === 0 && <p className="px-3 py-2 text-soft">{none}</p>}
        </ComboboxOptions>
      </Combobox>
      {terms.length > 1 && (
        <button className="text-soft underline hover:text-ink" onClick={() => onChange(() => [])}>
          {all}
        </button>
      )}
    </div>
  );
}
