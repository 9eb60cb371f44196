import { useMemo } from 'react';
import type { WordsFor } from '@/core/rules/words';
import { useRecorded } from './recorded';

export function useNames(): WordsFor {
  const { segments } = useRecorded();
  return useMemo(
    () => ({
      segment: (id) => segments.find((one) => one.id === id)?.name ?? 'a segment that is gone',
      set: String,
      campaign: String,
      place: String,
    }),
    [segments],
  );
}
