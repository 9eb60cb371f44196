'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { memo, useMemo, useState } from 'react';
import type { WordsFor } from '@/core/pages/names';
import type { PhraseOffer } from './phraseOffers';
import type { Recorded } from './recorded';
import { useRecorded } from './recorded';
import { useNames } from './useNames';

/** The end of the sentence, to type into: what is typed becomes phrases, from what the site has recorded. */
export const PhraseLine = memo(function PhraseLine({
  label,
  placeholder,
  offersFor,
  onPick,
}: {
  label: string;
  placeholder: string;
  offersFor: (typed: string, recorded: Recorded, names: WordsFor) => PhraseOffer[];
  onPick: (offer: PhraseOffer) => void;
}) {
  const recorded = useRecorded();
  const names = useNames();
  const [typed, setTyped] = useState('');
  const offers = useMemo(() => offersFor(typed, recorded, names), [offersFor, typed, recorded, names]);
  return (
    <Combobox<PhraseOffer | null>
      value={null}
      onChange={(offer) => {
        if (!offer) return;
        setTyped('');
        onPick(offer);
      }}
    >
      <ComboboxInput
        data-filter
        aria-label={label}
        className="w-full max-w-xl rounded border-b border-dashed border-edge bg-transparent py-1 font-display text-lg outline-none placeholder:text-soft focus:border-solid focus:border-pine"
        placeholder={placeholder}
        autoComplete="off"
        maxLength={300}
        displayValue={() => typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <ComboboxOptions anchor={{ to: 'bottom start', gap: 6 }} className="z-40 w-[560px] max-w-[90vw] sheet p-1 shadow-lg empty:invisible">
        {/* A list of its own for each text: the combobox keeps the order in which it first met its options, and Enter would take one that is no longer the first. */}
        {offers.map((offer) => (
          <ComboboxOption
            key={`${offer.id} ${typed}`}
            value={offer}
            className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-1.5 data-focus:bg-bone"
          >
            <span className={`phrase phrase-${offer.family} truncate`}>{offer.words}</span>
            <span className="ml-auto shrink-0 text-xs text-soft">{offer.note}</span>
          </ComboboxOption>
        ))}
        {typed.trim() !== '' && offers.length === 0 && (
          <p className="px-3 py-2 text-soft">Nothing recorded is called so. Below is everything else.</p>
        )}
      </ComboboxOptions>
    </Combobox>
  );
});
