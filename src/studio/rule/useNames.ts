import { useMemo } from 'react';
import type { WordsFor } from '@/core/pages/names';
import { useRecorded } from './recorded';

/** Names for the ids that rules hold; what is gone says so. */
export function useNames(): WordsFor {
  const { segments, sets, places, campaigns } = useRecorded();
  return useMemo(() => {
    const nameIn =
      (list: readonly { id: string; name: string }[], what: string) =>
      (id: string): string =>
        list.find((one) => one.id === id)?.name ?? `${what} that is gone`;
    return {
      segment: nameIn(segments, 'a segment'),
      set: nameIn(sets, 'a page set'),
      campaign: nameIn(campaigns, 'a campaign'),
      place: nameIn(places, 'a place'),
    };
  }, [segments, sets, places, campaigns]);
}
