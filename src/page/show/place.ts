// Places between the page's own elements: loaded only where a flow has a message that stands in one.
import type { MessageOf } from '@/core/messages/message';
import { later } from '../guard';
import type { PlaceInPage } from './context';
import { ofDocument } from '../own';

const QUIET_MS = 300;
const MOST_MS = 4000;

const slotOf = (name: string): Element | null => document.querySelector(`[data-crindle-slot="${name}"]`);

/** Puts a message between the page's own elements. */
export const placeInPage: PlaceInPage = (message, host, box, context, put) => {
  const settle: Settle = (insert) =>
    settleIn(host, context.onRemove, () => {
      insert();
      if (!box.firstChild) put(message, context);
    });
  return message.format === 'banner' ? placeBanner(message, host, box, settle) : placeInset(message, host, settle);
};

type OnRemove = (stop: () => void) => void;
type Settle = (insert: () => void) => void;

function placeBanner({ slot, edge }: MessageOf<'banner'>, host: HTMLElement, box: HTMLElement, settle: Settle): undefined {
  settle(() => {
    if (slot) return slotOf(slot)?.append(host);
    // Beside the body, whose own layout might make a column of it.
    if (edge === 'bottom') return ofDocument('body').after(host);
    ofDocument('body').before(host);
    return standUnderHeader(box);
  });
}

function placeInset({ into, how = 'fill' }: MessageOf<'inset'>, host: HTMLElement, settle: Settle): () => void {
  let spot: Element | null = null;
  let held: ChildNode[] = [];
  settle(() => {
    spot = 'slot' in into ? slotOf(into.slot) : document.querySelector(into.selector);
    if (how !== 'fill') return spot?.[how](host);
    held = [...(spot?.childNodes ?? [])];
    return spot?.replaceChildren(host);
  });
  return () => {
    if (held.length) spot?.replaceChildren(...held);
  };
}

/**
 * Inserts once the page has settled, because what a framework has yet to take over must be as it was sent. If the element is thrown
 * out all the same it is put back, once.
 */
function settleIn(host: HTMLElement, onRemove: OnRemove, insert: () => void): void {
  const since = Date.now();
  let times = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const look = (): void => {
    if (ofDocument('readyState') !== 'complete') return wait();
    if (!host.isConnected && times++ < 2) insert();
  };
  const wait = (): void => {
    clearTimeout(timer);
    // A page that never comes to rest is not waited for.
    timer = later(look, times > 0 || Date.now() - since < MOST_MS ? QUIET_MS : 0);
  };
  const onChange = new MutationObserver(wait);
  onChange.observe(ofDocument('documentElement'), { childList: true, subtree: true });
  wait();
  onRemove(() => {
    onChange.disconnect();
    clearTimeout(timer);
  });
}

/** A header that stays at the window's top would lie over it: it stands under that, and the page keeps the room that it left for the header. */
function standUnderHeader(box: HTMLElement): void {
  const header = document.elementsFromPoint(innerWidth / 2, 1).find((element) => getComputedStyle(element).position === 'fixed');
  const room = header?.getBoundingClientRect().bottom ?? 0;
  if (room > 0 && room < innerHeight / 2) box.style.cssText = `z-index:1;margin:${room}px 0 -${room}px`;
}
