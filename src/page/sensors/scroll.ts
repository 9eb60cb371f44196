import { later } from '../guard';
import { ofDocument } from '../own';
import type { Emit, Stop } from './sensor';
import { listen } from './sensor';

const STEP = 5;
/** What is put in the place of other content, and is shorter or longer, stands anywhere for a moment, until it is scrolled to where it begins or was left. */
const REST_MS = 100;
/** A container stands for the page where it takes up at least this share of the window, each way. */
const MAIN_SHARE = 0.25;

let container: Element | undefined;

/** What the reader scrolls: the document, or where that cannot scroll the container in the middle of the window that can. */
export function scroller(): Element {
  const page = ofDocument('scrollingElement') ?? ofDocument('documentElement');
  if (page.scrollHeight - page.clientHeight > 1) return page;
  if (container?.isConnected) return container;
  container = undefined;
  for (let element = document.elementFromPoint(innerWidth / 2, innerHeight / 2); element; element = element.parentElement)
    if (isMain(element) && /auto|scroll/.test(getComputedStyle(element).overflowY)) return (container = element);
  return page;
}

const isMain = (element: Element): boolean =>
  element.scrollHeight - element.clientHeight > 1 &&
  element.clientHeight >= innerHeight * MAIN_SHARE &&
  element.clientWidth >= innerWidth * MAIN_SHARE;

/** How far the page stands scrolled, in percent of what can be scrolled; undefined where it cannot scroll. */
export function scrollDepth(): number | undefined {
  const { scrollTop, scrollHeight, clientHeight } = scroller();
  const room = scrollHeight - clientHeight;
  return room > 1 ? Math.max(0, Math.min(100, (scrollTop / room) * 100)) : undefined;
}

/**
 * Emits `scroll` in steps of five percent, and where a threshold that a rule names is crossed. What is decided on the
 * page is so exactly what a rehearsal will find recorded.
 */
export function watchScroll(emit: Emit, thresholds: () => readonly number[]): Stop {
  let last: number | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let height = scroller().scrollHeight;
  const measure = (): void => {
    timer = undefined;
    const depth = scrollDepth();
    if (depth === undefined) return;
    const from = last ?? -1;
    const crosses = thresholds().some((threshold) => from < threshold && depth >= threshold);
    if (last !== undefined && !crosses && Math.floor(depth / STEP) === Math.floor(last / STEP)) return;
    last = depth;
    emit({ s: 'scroll', depth: Math.floor(depth) });
  };
  // Listening while the event goes down hears the scrolling of containers too.
  const stop = listen(document, ['scroll'], ({ target }) => {
    const page = scroller();
    if (target !== document && target !== page) return;
    timer ||= later(measure, height === (height = page.scrollHeight) ? 0 : REST_MS);
  });
  return () => {
    stop();
    clearTimeout(timer);
  };
}
