import { later } from '../guard';
import { isHidden } from '../own';
import type { Emit, Stop } from './sensor';
import { listen } from './sensor';

const EVERY_MS = 5000;
const SETTLE_MS = 2500;

/** Emits `hide` and `show` as the tab goes away and comes back. */
export function watchVisibility(emit: Emit): Stop {
  return listen(document, ['visibilitychange'], () => emit({ s: isHidden() ? 'hide' : 'show' }));
}

/**
 * Emits `input` for pointer, key and touch: at once after a pause, then at most every five seconds, and once more for
 * the last one of a burst, so that inactivity is measured from the true last input.
 */
export function watchInput(emitAt: (at: number) => void, now: () => number): Stop {
  let emittedAt = -Infinity;
  let lastAt = -Infinity;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const emitNow = (at: number): void => {
    emittedAt = at;
    emitAt(at);
  };
  const stop = listen(window, ['pointermove', 'pointerdown', 'keydown', 'touchstart', 'wheel'], () => {
    lastAt = now();
    if (lastAt - emittedAt >= EVERY_MS) emitNow(lastAt);
    clearTimeout(timer);
    timer = later(() => lastAt > emittedAt && emitNow(lastAt), SETTLE_MS);
  });
  return () => {
    stop();
    clearTimeout(timer);
  };
}
