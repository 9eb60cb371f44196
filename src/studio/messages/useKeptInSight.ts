import type { RefObject } from 'react';
import { useLayoutEffect } from 'react';

/** From the edge of what can be seen, in px. */
const APART = 6;

/** Where the top of the window or of what something is scrolled in has come past it, it stands there, for as long as its frame goes on below. */
export function useKeptInSight(ref: RefObject<HTMLElement | null>): void {
  useLayoutEffect(() => {
    const element = ref.current;
    const frame = element?.closest('[data-frame]');
    if (!element || !frame) return undefined;
    const scroller = frame.closest('[data-board]');
    const put = (): void => {
      element.style.translate = 'none';
      const own = element.getBoundingClientRect();
      const header = document.querySelector('header')?.getBoundingClientRect().bottom ?? 0;
      const top = Math.max(header, scroller?.getBoundingClientRect().top ?? 0) + APART;
      const most = frame.getBoundingClientRect().bottom - own.bottom;
      const zoom = frame.getBoundingClientRect().width / (frame as HTMLElement).offsetWidth;
      element.style.translate = `0 ${Math.max(0, Math.min(top - own.top, most)) / zoom}px`;
    };
    put();
    const over = new AbortController();
    addEventListener('scroll', put, { capture: true, passive: true, signal: over.signal });
    addEventListener('resize', put, { signal: over.signal });
    return () => over.abort();
  });
}
