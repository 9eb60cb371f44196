import { later } from '../guard';
import type { Stop } from './sensor';
import { listen } from './sensor';

const POLL_MS = 250;
/** An address that a page goes on replacing (a map that is moved, a list that grows as it is read) is one page, once it has come to rest. */
const SETTLE_MS = 1000;

/**
 * Calls back when the page changes without a page load: path, query or a fragment that is a route (`#/…`) are others, or the
 * event happens that the site names. Patching `history` would change a global of the host page; the Navigation API tells
 * where there is one, and a look at the address four times a second where there is none.
 */
export function watchAddress(onChange: () => void, onLeave: () => void, pageEvent?: string): Stop {
  let last = key();
  let seen = last;
  let wait = SETTLE_MS;
  let timer: ReturnType<typeof setTimeout> | undefined;
  // Never within the event by which the page goes on: the click that led there belongs to the page before.
  const look = ({ navigationType }: Event & { navigationType?: string | null }): void => {
    // What the page was called is said before the next one gives it another name.
    if (key() !== last) onLeave();
    if (navigationType !== 'replace') wait = 0;
    clearTimeout(timer);
    timer = later(() => {
      wait = SETTLE_MS;
      if (last === (last = key())) return;
      onChange();
    }, wait);
  };
  const stops: Stop[] = [() => clearTimeout(timer)];
  if (pageEvent)
    for (const target of [window, document])
      stops.push(
        listen(target, [pageEvent], ({ currentTarget, target: from }) => {
          // An event that bubbles up to the window is one event.
          if (currentTarget === window && from !== window) return;
          last = key();
          onChange();
        }),
      );
  const { navigation } = window as Window & { navigation?: EventTarget };
  if (navigation) stops.push(listen(navigation, ['currententrychange'], look));
  else {
    stops.push(listen(window, ['popstate', 'hashchange'], look));
    const poll = setInterval(() => seen !== (seen = key()) && look({ navigationType: 'replace' } as never), POLL_MS);
    stops.push(() => clearInterval(poll));
  }
  return () => stops.forEach((stop) => stop());
}

const key = (): string => location.pathname + location.search + (/^#!?\/./.test(location.hash) ? location.hash : '');
