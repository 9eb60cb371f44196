'use client';

import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { toast } from 'sonner';
import type { Ending, Ways } from '@/core/results/ways';
import { ENDINGS } from '@/core/results/ways';
import { fetched } from '../parts/net/call';
import type { Board } from './board';

/** How many showings of a campaign went which way, once somebody wants to see it. */
export function useTaken(campaign: string, isWanted: boolean): Ways | undefined {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const { data, error } = useQuery({
    queryKey: ['ways', campaign],
    enabled: isWanted,
    queryFn: () => fetched('GET /api/campaigns/{id}/ways', { params: { id: campaign }, query: { zone } }),
  });
  useEffect(() => {
    if (error) toast.error(error.message);
  }, [error]);
  return isWanted ? data : undefined;
}

const ENDED: Readonly<Record<Ending, string>> = { sent: 'sent', dismissed: 'closed', pressed: 'pressed and done', left: 'left as it was' };

/** Room for the words over the topmost messages. */
export const WORDS_ABOVE = 44;

/** Over each message in how many showings it was seen, where these came from, and how they ended there. */
export function WayWords({ taken, board, ids }: { taken: Ways; board: Board; ids: readonly string[] }) {
  const n = (count: number): string => count.toLocaleString('en-GB');
  return ids.map((id) => {
    const spot = board.spots.get(id);
    const seen = taken.seen[id] ?? 0;
    const ended = taken.ended[id] ?? {};
    if (!spot) return null;
    return (
      <p
        key={id}
        className="absolute z-20 rounded bg-ink px-2 py-1 text-sm text-paper"
        style={{ left: spot.x, top: spot.y - 4, maxWidth: spot.width, translate: '0 -100%' }}
      >
        <b>{seen === 0 ? 'seen in no showing' : `seen in ${n(seen)} of ${n(taken.showings)} showings`}</b>
        {seen > 0 && (
          <>
            {' · '}
            {[
              ...taken.went.filter(({ from }) => from === id).map(({ to, showings }) => `${n(showings)} on to ${to}`),
              ...ENDINGS.filter((ending) => (ended[ending] ?? 0) > 0).map((ending) => `${n(ended[ending] ?? 0)} ${ENDED[ending]}`),
            ].join(', ')}
          </>
        )}
      </p>
    );
  });
}
