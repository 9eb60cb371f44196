'use client';

import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogBackdrop,
  DialogPanel,
  DialogTitle,
} from '@headlessui/react';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { fetched } from '../parts/net/call';
import { useSettled } from '../parts/saving/useSettled';
import type { Command, Offer } from './actions';
import { offerFromHit, offersFor } from './actions';

const SETTLE_MS = 120;

/** Search over everything of the site and every action. */
export function SearchSheet({
  isOpen,
  onClose,
  onCommand,
}: {
  isOpen: boolean;
  onClose: () => void;
  onCommand: (command: Command) => void;
}) {
  return (
    <Dialog open={isOpen} onClose={onClose} className="relative z-50">
      <DialogBackdrop className="fixed inset-0 bg-black/25" />
      <DialogPanel className="fixed left-1/2 top-16 w-[620px] max-w-[calc(100vw-32px)] -translate-x-1/2 sheet shadow-xl">
        <DialogTitle className="sr-only">Search</DialogTitle>
        <Search onClose={onClose} onCommand={onCommand} />
      </DialogPanel>
    </Dialog>
  );
}

function Search({ onClose, onCommand }: { onClose: () => void; onCommand: (command: Command) => void }) {
  const router = useRouter();
  const [text, setText] = useState('');
  const asked = useSettled(text.trim(), SETTLE_MS);
  const { data, error } = useQuery({
    queryKey: ['search', asked],
    enabled: asked !== '',
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => fetched('GET /api/search', { query: { text: asked }, signal }),
  });
  const offers = [...(asked === '' ? [] : (data ?? []).map(offerFromHit)), ...offersFor(text)];
  const groups = [...new Set(offers.map(({ group }) => group))];
  const pick = (offer: Offer | null): void => {
    if (!offer) return;
    onClose();
    if ('href' in offer.does) router.push(offer.does.href);
    else onCommand(offer.does.run);
  };
  return (
    <Combobox<Offer | null> value={null} onChange={pick}>
      <ComboboxInput
        autoFocus
        aria-label="Search"
        className="w-full border-b border-line bg-transparent px-4 py-3 text-base outline-none"
        placeholder="A segment, a campaign, a page, an email, or what you want to do"
        autoComplete="off"
        maxLength={200}
        displayValue={() => text}
        onChange={(event) => setText(event.target.value)}
      />
      <ComboboxOptions static className="max-h-[60vh] overflow-auto p-1.5">
        {groups.map((group) => (
          <div key={group} role="group" aria-label={group} className="mb-1">
            <p aria-hidden="true" className="px-3 pt-1.5 pb-0.5 text-xs text-soft">
              {group}
            </p>
            {offers
              .filter((offer) => offer.group === group)
              .map((offer) => (
                <ComboboxOption
                  key={`${offer.id} ${text} ${asked}`}
                  value={offer}
                  className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-1.5 data-focus:bg-bone"
                >
                  <span className={`truncate ${group === 'Visits to a page' ? 'font-mono text-[13px]' : 'font-semibold'}`}>
                    {offer.name}
                  </span>
                  <span className="ml-auto shrink-0 text-xs text-soft">{offer.note}</span>
                </ComboboxOption>
              ))}
          </div>
        ))}
        {offers.length === 0 && <p className="px-3 py-2 text-soft">Nothing is called so.</p>}
      </ComboboxOptions>
      {error && (
        <p role="alert" className="border-t border-line px-4 py-2 text-danger">
          {error.message}
        </p>
      )}
    </Combobox>
  );
}
