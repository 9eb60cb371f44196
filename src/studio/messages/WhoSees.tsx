'use client';

import { useMemo } from 'react';
import type { Message } from '@/core/messages/message';
import type { Rule } from '@/core/rules/schema';
import { ForetoldWords } from '../campaigns/ForetoldWords';
import { useForetold } from '../campaigns/useForetold';
import { ALL, blocksForSome, NOTHING, toForetell } from './forPeople';

/** Of a message with blocks for some people: how many of the last month's showings would have had each, and how many nothing at all. */
export function WhoSees({ message, rule, onForAll }: { message: Message; rule: Rule; onForAll: () => void }) {
  const asked = useMemo(() => toForetell(message, rule), [message, rule]);
  const foretold = useForetold(asked);
  const some = blocksForSome(message);
  if (some.length === 0) return null;
  const nothing = foretold.get(NOTHING);
  const isSeenByAll = nothing !== undefined && 'possible' in nothing && nothing.possible === 0;
  return (
    <section aria-label={`Who sees what of ${message.id}`} className="mt-2 grid gap-1 text-sm">
      <p className="text-soft">
        In the last 30 days: <ForetoldWords of={foretold.get(ALL)} />
      </p>
      <ul className="grid gap-0.5">
        {some.map(({ key, name }) => (
          <li key={key} className="flex justify-between gap-3">
            <span className="truncate text-people">{name}</span>
            <ForetoldWords of={foretold.get(key)} />
          </li>
        ))}
      </ul>
      {asked.some(({ id }) => id === NOTHING) && !isSeenByAll && (
        <p className="flex flex-wrap items-baseline gap-x-2">
          <span className="text-danger">Nothing of it is for everybody: an empty message in</span>
          <ForetoldWords of={nothing} />
          <button className="font-semibold underline decoration-line decoration-2 underline-offset-4" onClick={onForAll}>
            Let the last block be for all
          </button>
        </p>
      )}
    </section>
  );
}
