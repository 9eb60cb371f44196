import type { Emit, Stop } from './sensor';
import { listen } from './sensor';

const STEP = 5;

/** How far the page stands scrolled, in percent of what can be scrolled; undefined where it cannot scroll. */
export function scrollDepth(): number | undefined {
  const { scrollTop, scrollHeight, clientHeight } = document.scrollingElement ?? document.documentElement;
  const room = scrollHeight - clientHeight;
  return room > 1 ? Math.max(0, Math.min(100, (scrollTop / room) * 100)) : undefined;
}

/**
 * Emits `scroll` in steps of five percent, and where a threshold that a rule names is crossed. What is decided on the
 * page is so exactly what a rehearsal will find recorded.
 */
export function watchScroll(emit: Emit, thresholds: () => readonly number[]): Stop {
  let last: number | undefined;
  let frame = 0;
  const measure = (): void => {
    frame = 0;
    const depth = scrollDepth();
    if (depth === undefined) return;
    const from = last ?? -1;
    const crosses = thresholds().some((threshold) => from < threshold && depth >= threshold);
    if (last !== undefined && !crosses && Math.floor(depth / STEP) === Math.floor(last / STEP)) return;
    last = depth;
    emit({ s: 'scroll', depth: Math.floor(depth) });
  };
  const stop = listen(document, ['scroll'], () => {
    frame ||= requestAnimationFrame(measure);
  });
  return () => {
    stop();
    cancelAnimationFrame(frame);
  };
}
