import type { SentSignal } from '@/core/wire/items';
import { guard } from '../guard';

export type Emit = (signal: SentSignal) => void;
export type Stop = () => void;

/** Adds passive listeners that `Stop` takes away again; a fault in one does not reach the page. */
export function listen(target: EventTarget, types: readonly string[], listener: (event: Event) => void): Stop {
  const options = { passive: true, capture: true };
  const { prototype } = EventTarget;
  const guarded = guard(String(types), listener);
  for (const type of types) prototype.addEventListener.call(target, type, guarded, options);
  return () => {
    for (const type of types) prototype.removeEventListener.call(target, type, guarded, options);
  };
}
