// Messages that stand at an edge of the window or between the page's own elements: loaded only where a flow has one.
import type { MessageOf } from '@/core/messages/message';
import { later } from '../guard';
import type { Context, PlaceInPage } from './context';
import { ofDocument } from '../own';

/** What they look like, beside what every message brings. */
export const placeStyle = `
.inset{position:relative;width:100%;border-radius:var(--corners);border:1px solid #c9d0cc}
.flows{position:relative}
/* In sight wherever the page is scrolled to, and over nothing once its end is reached. */
.flows.bottom{position:sticky;bottom:0;z-index:2147483647;box-shadow:0 0 24px rgb(0 0 0/.22)}
.tab{position:fixed;z-index:2147483647;inset:auto;margin:0;min-height:44px;padding:10px 16px;border:1px solid transparent;background:var(--accent);
color:var(--on-accent);font:600 15px/1.3 system-ui,sans-serif;cursor:pointer;border-radius:var(--corners) var(--corners) 0 0;box-shadow:0 2px 14px rgb(0 0 0/.25)}
.tab.bottom{bottom:var(--lift,0);inset-inline-end:32px}
.tab.end,.tab.start{top:50%;writing-mode:vertical-rl;padding:16px 10px;min-width:44px;translate:0 -50%;border-radius:0}
.tab.end,.tab.start:dir(rtl){right:0;left:auto}.tab.start,.tab.end:dir(rtl){right:auto;left:0}
.tab:focus-visible{outline:3px solid #fff;outline-offset:-6px}
`;

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
  tellSight(box, context);
  return message.format === 'banner' ? placeBanner(message, host, box, settle) : placeInset(message, host, settle);
};

/** Tells, once, that half of the message has been in the window, or that it filled half of that. */
function tellSight(box: HTMLElement, { deps: { talk, guard }, onRemove }: Context): void {
  const inSight = new IntersectionObserver(
    guard('sight', (entries: readonly IntersectionObserverEntry[]) => {
      const isSeen = entries.some(
        ({ intersectionRect, boundingClientRect }) =>
          intersectionRect.height > 0 && intersectionRect.height >= Math.min(boundingClientRect.height, innerHeight) / 2,
      );
      if (!isSeen || !talk) return;
      inSight.disconnect();
      talk.host.send({ kind: 'sight', showing: talk.showing });
    }),
    { threshold: SIGHT_STEPS },
  );
  inSight.observe(box);
  onRemove(() => inSight.disconnect());
}

/** Of one that is higher than the window even half of that is a small part. */
const SIGHT_STEPS = [0, 0.1, 0.2, 0.3, 0.4, 0.5];

type OnRemove = (stop: () => void) => void;
type Settle = (insert: () => void) => void;

function placeBanner({ slot, edge }: MessageOf<'banner'>, host: HTMLElement, box: HTMLElement, settle: Settle): undefined {
  settle(() => {
    if (slot) return slotOf(slot)?.append(host);
    // Beside the body, whose own layout might make a column of it.
    if (edge === 'top') {
      ofDocument('body').before(host);
      return standUnderHeader(box);
    }
    ofDocument('body').after(host);
    // A page that runs over its own end has no place there: it would stand across its text.
    const { scrollHeight, offsetHeight } = ofDocument('documentElement');
    if (scrollHeight > offsetHeight + 1) box.classList.replace('flows', 'over');
    return undefined;
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

const HEADERS = 'header,nav,[role=banner],[class*=nav i],[class*=header i]';
const MOST_HEADERS = 300;

/** How far down it reaches that stays across the window's top; 0 of anything else. */
function roomOf(element: Element): number {
  const { top, bottom, width } = element.getBoundingClientRect();
  const isAcross = top <= 1 && bottom > 0 && bottom < innerHeight / 2 && width > innerWidth / 2;
  return isAcross && element.checkVisibility() && getComputedStyle(element).position === 'fixed' ? bottom : 0;
}

/** A header that stays at the window's top would lie over it: it stands under that, and the page keeps the room that it left for the header. */
function standUnderHeader(box: HTMLElement): void {
  // One that lets clicks through is not met at a point, but has a name.
  const met = [...document.elementsFromPoint(innerWidth / 2, 1), ...document.querySelectorAll(HEADERS)];
  const room = met.slice(0, MOST_HEADERS).reduce((most, element) => Math.max(most, roomOf(element)), 0);
  if (room) box.style.cssText = `z-index:1;margin:${room}px 0 -${room}px`;
}
