'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { UsersRound } from 'lucide-react';
import type { Block } from '@/core/messages/block';
import type { Expr } from '@/core/logic/expr';
import { LONGEST_LOOKBACK_DAYS } from '@/core/history/visitor';
import type { PeopleCondition } from '@/core/people/condition';
import { PeopleEditor } from '../rule/PeopleEditor';
import { PhraseLine } from '../rule/PhraseLine';
import type { PhraseOffer } from '../rule/phraseOffers';
import { peopleOffers } from '../rule/phraseOffers';
import type { Recorded } from '../rule/recorded';
import type { WordsFor } from '@/core/pages/names';
import { FirstFocused } from './Phrase';

const NOBODY_ELSE = '';
const offersFor = (typed: string, recorded: Recorded, names: WordsFor): PhraseOffer[] => peopleOffers(typed, recorded, names, NOBODY_ELSE);

/** Whom a block is for: everybody, or people said as in any rule. */
export function ForWhom({
  label,
  block,
  onChange,
}: {
  label: string;
  block: Block;
  onChange: (people: Expr<PeopleCondition> | undefined) => void;
}) {
  const { for: people } = block;
  return (
    <Popover>
      <PopoverButton
        aria-label={`Whom it is for: ${label}`}
        title={people ? 'For some people' : 'For everybody'}
        className={`board-tool ${people ? 'text-people' : ''}`}
      >
        <UsersRound size={16} aria-hidden="true" />
      </PopoverButton>
      <PopoverPanel anchor={{ to: 'bottom start', gap: 8 }} className="z-40 grid w-[560px] max-w-[90vw] gap-3 sheet p-3 text-sm shadow-lg">
        <FirstFocused className="grid gap-3">
          <PhraseLine
            label="Type whom it is for"
            placeholder={people ? 'and …' : 'For everybody; or type a page, a source, an event, a town, “3 visits”'}
            offersFor={offersFor}
            onPick={(offer) => onChange(offer.addTo(people ? { people } : {}).people)}
          />
          {people && (
            <>
              <PeopleEditor value={people} lookback={LONGEST_LOOKBACK_DAYS} self={NOBODY_ELSE} onChange={onChange} />
              <button className="act-quiet w-fit" onClick={() => onChange(undefined)}>
                For everybody
              </button>
            </>
          )}
        </FirstFocused>
      </PopoverPanel>
    </Popover>
  );
}
