import { useCallback, useState } from 'react';
import type { Point } from './board';

export type Shifts = Readonly<Record<string, Point>>;

const NONE: Shifts = {};
const nameOf = (campaign: string): string => `crindle-board:${campaign}`;

/** How far each frame of a campaign's board was moved by hand from where it is laid out, kept in this browser. */
export function useShifts(campaign: string): { shifts: Shifts; shift: (id: string, by: Point) => void; layAnew: () => void } {
  const [shifts, setShifts] = useState<Shifts>(() => read(campaign));
  const keep = useCallback(
    (change: (before: Shifts) => Shifts) =>
      setShifts((before) => {
        const next = change(before);
        try {
          localStorage.setItem(nameOf(campaign), JSON.stringify(next));
        } catch {
          // A browser that keeps nothing lays the board out anew the next time.
        }
        return next;
      }),
    [campaign],
  );
  const shift = useCallback(
    (id: string, by: Point) => keep((before) => ({ ...before, [id]: { x: (before[id]?.x ?? 0) + by.x, y: (before[id]?.y ?? 0) + by.y } })),
    [keep],
  );
  return { shifts, shift, layAnew: useCallback(() => keep(() => NONE), [keep]) };
}

function read(campaign: string): Shifts {
  try {
    const met: unknown = JSON.parse(localStorage.getItem(nameOf(campaign)) ?? '{}');
    if (typeof met !== 'object' || met === null) return NONE;
    const isPoint = (one: unknown): one is Point =>
      typeof one === 'object' && one !== null && Number.isFinite((one as Point).x) && Number.isFinite((one as Point).y);
    return Object.fromEntries(Object.entries(met).filter((entry): entry is [string, Point] => isPoint(entry[1])));
  } catch {
    return NONE; // Written by nobody who knows how.
  }
}
