import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef } from 'react';
import { toast } from 'sonner';
import { call } from '../parts/net/call';
import type { Point } from './board';

export type Shifts = Readonly<Record<string, Point>>;

const NONE: Shifts = {};
/** Keys move a frame step by step: it is kept once they rest. */
const RESTS_MS = 400;

/** How far each frame of a campaign's board was moved by hand from where it is laid out; kept with the campaign, for everybody. */
export function useShifts(campaign: string): { shifts: Shifts; shift: (id: string, by: Point) => void; layAnew: () => void } {
  const known = useQueryClient();
  const waiting = useRef<(() => void) | undefined>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const { data: shifts = NONE } = useQuery({
    queryKey: ['board', campaign],
    queryFn: async () => {
      const result = await call('GET /api/campaigns/{id}/board', { params: { id: campaign } });
      if (!result.ok) throw new Error(result.message);
      return result.value.moved;
    },
    staleTime: Infinity,
    refetchOnMount: 'always',
  });
  // Whoever leaves meanwhile leaves it as it was seen last.
  useEffect(
    () => () => {
      clearTimeout(timer.current);
      waiting.current?.();
    },
    [campaign],
  );
  const keep = useCallback(
    (change: (before: Shifts) => Shifts) => {
      const before = known.getQueryData<Shifts>(['board', campaign]);
      // What others have moved is not known yet: it must not be overwritten.
      if (!before) return;
      const next = change(before);
      void known.cancelQueries({ queryKey: ['board', campaign] });
      known.setQueryData(['board', campaign], next);
      waiting.current = () => {
        waiting.current = undefined;
        void call('PUT /api/campaigns/{id}/board', { params: { id: campaign }, body: { moved: next } }).then((result) => {
          if (!result.ok) toast.error(`Where the messages stand is not kept: ${result.message}`);
        });
      };
      clearTimeout(timer.current);
      timer.current = setTimeout(() => waiting.current?.(), RESTS_MS);
    },
    [campaign, known],
  );
  const shift = useCallback(
    (id: string, by: Point) => keep((before) => ({ ...before, [id]: { x: (before[id]?.x ?? 0) + by.x, y: (before[id]?.y ?? 0) + by.y } })),
    [keep],
  );
  return { shifts, shift, layAnew: useCallback(() => keep(() => NONE), [keep]) };
}
