import type { Emit, Stop } from '../sensors/sensor';
import { ofDocument } from '../own';

const STEPS = 100;

/**
 * Emits `seen` for watched selectors: as the largest share of a matching element in the viewport crosses one of the shares
 * that rules name, leaves 0 or comes to 100, and as a top edge first comes up to the viewport's bottom. The share is of the
 * element or of the viewport, whichever is smaller. Elements that appear later are found too.
 */
export function watchElements(selectors: readonly string[], shares: readonly number[], emit: Emit): Stop {
  const states = selectors.filter(isSelector).map((selector) => ({ selector, seen: new Map<Element, number>(), last: -1, top: false }));
  if (states.length === 0) return () => undefined;
  const levels = [...new Set([0.01, ...shares, 100])].sort((a, b) => a - b);
  const levelOf = (share: number): number => levels.filter((level) => share >= level).length;

  const onShare = new IntersectionObserver(
    (entries) => {
      for (const { target, intersectionRect, boundingClientRect, rootBounds } of entries) {
        const whole = Math.min(areaOf(boundingClientRect), rootBounds ? areaOf(rootBounds) : Infinity);
        const share = whole > 0 ? Math.min(100, (areaOf(intersectionRect) / whole) * 100) : 0;
        for (const { seen } of states) if (seen.has(target)) seen.set(target, share);
      }
      for (const state of states) {
        const share = Math.max(0, ...state.seen.values());
        if (levelOf(share) === levelOf(state.last)) continue;
        state.last = share;
        emit({ s: 'seen', selector: state.selector, share: Math.floor(share * 10) / 10, ...(state.top ? { top: true } : {}) });
      }
    },
    { threshold: Array.from({ length: STEPS + 1 }, (_, step) => step / STEPS) },
  );
  // Reaches up without end, so that what is jumped over in one scroll counts as reached.
  const onTop = new IntersectionObserver(
    (entries) => {
      for (const { target, isIntersecting } of entries)
        for (const state of states)
          if (isIntersecting && !state.top && state.seen.has(target)) {
            state.top = true;
            emit({ s: 'seen', selector: state.selector, share: Math.floor(Math.max(0, ...state.seen.values()) * 10) / 10, top: true });
          }
    },
    { rootMargin: '10000000px 0px 0px 0px' },
  );
  const look = (): void => {
    for (const { selector, seen } of states) {
      for (const element of seen.keys())
        if (!element.isConnected) {
          seen.delete(element);
          onShare.unobserve(element);
          onTop.unobserve(element);
        }
      for (const element of document.querySelectorAll(selector)) {
        if (seen.has(element)) continue;
        seen.set(element, 0);
        onShare.observe(element);
        onTop.observe(element);
      }
    }
  };
  let frame = 0;
  const onChange = new MutationObserver(() => {
    frame ||= requestAnimationFrame(() => {
      frame = 0;
      look();
    });
  });
  look();
  onChange.observe(ofDocument('documentElement'), { childList: true, subtree: true, attributes: true, attributeFilter: ['class', 'id'] });
  return () => {
    cancelAnimationFrame(frame);
    onChange.disconnect();
    onShare.disconnect();
    onTop.disconnect();
  };
}

const areaOf = ({ width, height }: DOMRectReadOnly): number => width * height;

function isSelector(selector: string): boolean {
  try {
    document.createDocumentFragment().querySelector(selector);
    return true;
  } catch {
    return false; // No valid selector matches nothing; lint says so.
  }
}
