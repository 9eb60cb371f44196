import type { SentSignal } from '@/core/wire/items';

export type Emit = (signal: SentSignal) => void;
export type Stop = () => void;

/** Adds passive listeners that `Stop` takes away again. */
export function listen(target: EventTarget, types: readonly string[], listener: (event: Event) => void): Stop {
  const options = { passive: true, capture: true };
  for (const type of types) target.addEventListener(type, listener, options);
  return () => {
    for (const type of types) target.removeEventListener(type, listener, options);
  };
}
