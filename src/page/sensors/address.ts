import type { Stop } from './sensor';
import { listen } from './sensor';

const POLL_MS = 250;

interface NavigationTarget extends EventTarget {
  readonly currentEntry?: unknown;
}

/**
 * Calls back when the page changes without a page load: path, query or a fragment that is a route (`#/…`) are others, or the
 * event happens that the site names. Patching `history` would change a global of the host page; the Navigation API tells
 * where there is one, and a look at the address four times a second where there is none.
 */
export function watchAddress(onChange: () => void, pageEvent?: string): Stop {
  let last = key();
  const look = (): void => {
    const current = key();
    if (current === last) return;
    last = current;
    onChange();
  };
  const stops: Stop[] = [];
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
  const { navigation } = window as Window & { navigation?: NavigationTarget };
  if (navigation) stops.push(listen(navigation, ['currententrychange'], look));
  else {
    stops.push(listen(window, ['popstate', 'hashchange'], look));
    const timer = setInterval(look, POLL_MS);
    stops.push(() => clearInterval(timer));
  }
  return () => stops.forEach((stop) => stop());
}

const key = (): string => location.pathname + location.search + (/^#!?\//.test(location.hash) ? location.hash : '');
