import type { Emit, Stop } from './sensor';
import { listen } from './sensor';
import { scrollDepth, scroller } from './scroll';

/** With a finger there is no pointer to leave: a fast scroll back up after some reading stands for it. */
const TOUCH = {
  /** The page must have been read this far, in percent of what can be scrolled. */
  readPercent: 25,
  /** The way back up, in CSS pixels, */
  backPixels: 350,
  /** and the time it may take. */
  withinMs: 400,
};

/** Emits `exit` as the pointer leaves through the top edge, or on touch screens by the sign above. */
export function watchExit(emit: Emit, now: () => number): Stop {
  const stops = [
    listen(document, ['mouseout'], (event) => {
      const { relatedTarget, clientY } = event as MouseEvent;
      if (relatedTarget === null && clientY <= 0) emit({ s: 'exit' });
    }),
  ];
  if (matchMedia('(pointer: coarse)').matches) stops.push(watchScrollBack(emit, now));
  return () => stops.forEach((stop) => stop());
}

function watchScrollBack(emit: Emit, now: () => number): Stop {
  let deepest = 0;
  let lastY = 0;
  let turn = { y: lastY, at: now() };
  // Containers that stand for the page are heard, too, while the event goes down.
  return listen(document, ['scroll'], () => {
    deepest = Math.max(deepest, scrollDepth() ?? 0);
    const at = now();
    const y = scroller().scrollTop;
    // A way up begins anew after every way down and when it has taken too long.
    if (y >= lastY || at - turn.at > TOUCH.withinMs) turn = { y: Math.max(y, lastY), at };
    lastY = y;
    if (deepest >= TOUCH.readPercent && turn.y - y >= TOUCH.backPixels) {
      turn = { y, at };
      deepest = 0;
      emit({ s: 'exit' });
    }
  });
}
