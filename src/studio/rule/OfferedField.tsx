'use client';

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { useState } from 'react';

const MOST = 50;

/** A text with what was recorded beside it: all of it while nothing has been typed yet, then what holds what is typed. Anything else can be typed as well. */
export function OfferedField({
  label,
  value,
  offers,
  className,
  placeholder,
  onChange,
}: {
  label: string;
  value: string;
  offers: readonly { readonly value: string; readonly times: number }[];
  className: string;
  placeholder?: string | undefined;
  onChange: (value: string) => void;
}) {
  const [isTyped, setTyped] = useState(false);
  const sought = value.toLowerCase();
  const fitting = isTyped ? offers.filter((offer) => offer.value.toLowerCase().includes(sought)) : offers;
  // By Enter stands what was typed, not what begins like it.
  const isOwn = isTyped && value !== '' && !fitting.some((offer) => offer.value === value);
  return (
    <Combobox immediate value={value} onChange={(next: string | null) => next !== null && onChange(next)}>
      <ComboboxInput
        aria-label={label}
        className={className}
        maxLength={500}
        placeholder={placeholder}
        displayValue={(one: string) => one}
        onFocus={() => setTyped(false)}
        onChange={({ target }) => {
          setTyped(true);
          onChange(target.value);
        }}
      />
      <ComboboxOptions
        modal={false}
        anchor={{ to: 'bottom start', gap: 4 }}
        className="z-50 max-h-64 min-w-(--input-width) overflow-auto sheet p-1 text-sm shadow-lg empty:hidden"
      >
        {[...(isOwn ? [{ value, times: undefined }] : []), ...fitting.slice(0, MOST)].map((offer) => (
          <ComboboxOption
            key={offer.value}
            value={offer.value}
            className="flex cursor-pointer justify-between gap-4 rounded px-3 py-1 font-mono text-[13px] data-focus:bg-bone"
          >
            {offer.value}
            <span className="font-sans text-soft">{offer.times === undefined ? 'not recorded' : offer.times.toLocaleString('en-GB')}</span>
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
