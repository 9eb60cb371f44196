import type { Stop } from './sensor';
import { listen } from './sensor';

const POLL_MS = 250;

interface NavigationTarget extends EventTarget {
  readonly currentEntry?: unknown;
}

/**
 * Calls back when path or query change without a page load. Patching `history` would change a global of the host page;
 * the Navigation API tells where there is one, and a look at the address four times a second where there is none.
 */
export function watchAddress(onChange: () => void): Stop {
  let last = key();
  const look = (): void => {
    const current = key();
    if (current === last) return;
    last = current;
    onChange();
  };
  const { navigation } = window as Window & { navigation?: NavigationTarget };
  if (navigation) return listen(navigation, ['currententrychange'], look);
  const stop = listen(window, ['popstate'], look);
  const timer = setInterval(look, POLL_MS);
  return () => {
    stop();
    clearInterval(timer);
  };
}

const key = (): string => location.pathname + location.search;
