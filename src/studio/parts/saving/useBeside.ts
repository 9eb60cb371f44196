import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import type { EditedKind } from '@/server/db/trash';
import type { Beside } from '@/server/db/editing';
import { addressOf, fetched } from '../net/call';

const EVERY_MS = 6000;
const ALONE: readonly Beside[] = [];

/** Says that this editor is open, and tells who else has the same open and which revision is stored by now. */
export function useBeside(kind: EditedKind, id: string): { beside: readonly Beside[]; stored: number | null | undefined } {
  const [tab] = useState(() => crypto.randomUUID());
  const { data } = useQuery({
    queryKey: ['editing', kind, id, tab],
    refetchInterval: EVERY_MS,
    refetchOnWindowFocus: 'always',
    gcTime: 0,
    retry: false,
    queryFn: ({ signal }) => fetched('POST /api/editing', { body: { kind, id, tab }, signal }),
  });
  useEffect(() => {
    const leave = (): void => void navigator.sendBeacon(addressOf('POST /api/editing'), JSON.stringify({ kind, id, tab, isLeaving: true }));
    addEventListener('pagehide', leave);
    return () => {
      removeEventListener('pagehide', leave);
      leave();
    };
  }, [kind, id, tab]);
  return { beside: data?.beside ?? ALONE, stored: data?.revision };
}
