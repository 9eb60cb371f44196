import type { Message, MessageOf } from '@/core/messages/message';
import type { Context, Drawn } from './context';
import { closeOnEscape, fill, keepFocus, makeHost, raise, settle } from './frame';
import { make } from './element';

const slotOf = (name: string): Element | null => document.querySelector(`[data-crindle-slot="${name}"]`);

/** Over the page's edge, pushing the page aside, or in a slot. */
export function drawBanner(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'banner'>;
  const slot = message.slot ? slotOf(message.slot) : null;
  const isFixed = !slot && message.pushes !== true && !context.deps.preview;
  const { host, box, put } = openBox(message, context, `banner ${message.edge} ${isFixed ? 'over' : 'flows'}`);
  if (context.deps.preview) context.deps.preview(host);
  else if (slot) slot.append(host);
  else if (isFixed) document.documentElement.append(host);
  // Beside the body, whose own layout might make a column of it.
  else if (message.edge === 'top') {
    document.body.before(host);
    standUnderHeader(box);
  } else document.body.after(host);
  if (isFixed) raise(box);
  put(message, context);
  settle();
  return { remove: keepFocus(host), refill: put };
}

/** A header that stays at the window's top would lie over it: it stands under that, and the page keeps the room that it left for the header. */
function standUnderHeader(box: HTMLElement): void {
  const header = document.elementsFromPoint(innerWidth / 2, 1).find((element) => getComputedStyle(element).position === 'fixed');
  const room = header?.getBoundingClientRect().bottom ?? 0;
  if (room > 0 && room < innerHeight / 2) box.style.cssText = `z-index:1;margin:${room}px 0 -${room}px`;
}

/** Part of the page: in a slot, or at an element. What a slot held comes back when the message goes. */
export function drawInset(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'inset'>;
  const { host, put } = openBox(message, context, 'inset');
  const { preview } = context.deps;
  const { into, how = 'fill' } = message;
  const spot = 'slot' in into ? slotOf(into.slot) : document.querySelector(into.selector);
  const held = how === 'fill' && spot ? [...spot.childNodes] : [];
  if (preview) preview(host);
  else if (how === 'before') spot?.before(host);
  else if (how === 'after') spot?.after(host);
  else spot?.replaceChildren(host);
  put(message, context);
  const remove = keepFocus(host);
  return {
    remove: () => {
      remove();
      if (!preview && held.length) spot?.replaceChildren(...held);
    },
    refill: put,
  };
}

function openBox(
  message: Message,
  context: Context,
  name: string,
): { host: HTMLElement; box: HTMLElement; put: NonNullable<Drawn['refill']> } {
  const host = makeHost();
  const box = make('section', '', {
    class: `box ${name}`,
    tabindex: '-1',
    ...(message.format === 'banner' ? { 'aria-live': 'polite' } : {}),
  });
  host.root.append(box);
  let isFirst = true;
  return {
    host: host.element,
    box,
    put: (given, nextContext) => {
      const next = given as MessageOf<'banner' | 'inset'>;
      fill(box, next, nextContext);
      if (next.format === 'banner' && next.closes.escape && !context.deps.preview) closeOnEscape(nextContext, box);
      if (nextContext.isAsked && !isFirst && !context.deps.preview) box.focus({ preventScroll: true });
      isFirst = false;
    },
  };
}
