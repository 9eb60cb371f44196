import type { Message, MessageOf } from '@/core/messages/message';
import type { Context, Drawn } from './context';
import { closeOnEscape, fill, keepFocus, makeHost, raise, whenFree } from './frame';
import { make } from './element';
import { styleText } from './style';
import { ofDocument } from '../own';

/** With a dim a modal dialog, which holds the focus; without one the page behind stays usable and keeps it. */
export function drawPopup(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'popup'>;
  const { preview } = context.deps;
  const isModal = message.dim !== false;
  const host = makeHost(styleText);
  const box = isModal && !preview ? make('dialog') : make('div', '', { role: 'dialog' });
  box.tabIndex = -1;
  host.root.append(box);
  let current = context;
  let closes = message.closes;

  const put = (next: MessageOf<'popup'>, nextContext: Context): void => {
    current = nextContext;
    closes = next.closes;
    box.className = `box popup ${classesAt(next.position)} in-${next.entrance ?? 'rise'}`;
    box.style.setProperty('--width', `${next.width ?? 420}px`);
    fill(box, next, nextContext);
    if (!isModal && closes.escape && !preview) closeOnEscape(nextContext, box);
  };

  if (preview) {
    put(message, context);
    preview(host.element);
    return { remove: () => host.element.remove(), refill: (next, nextContext) => put(next as typeof message, nextContext) };
  }
  // While it is open the key is not for what lies behind it.
  if (isModal) host.element.setAttribute('data-crindle', 'escape');
  const remove = keepFocus(host.element, isModal);
  ofDocument('documentElement').append(host.element);
  if ('showModal' in box) {
    put(message, context);
    whenFree(box, () => {
      box.showModal();
      box.focus({ preventScroll: true });
    });
    box.addEventListener('cancel', (event) => {
      event.preventDefault();
      if (closes.escape) current.close('escape');
    });
    box.addEventListener('click', (event) => {
      // A click on the dim has the dialog as its target, and so has one on its padding.
      if (closes.dim && event.target === box && !isInside(box, event)) current.close('dim');
    });
  } else {
    // Filled once it is there, so that a screen reader hears of it.
    box.setAttribute('aria-live', 'polite');
    raise(box);
    put(message, context);
    if (context.isAsked) box.focus({ preventScroll: true });
  }
  return {
    remove: () => {
      if ('close' in box) box.close(); // Gives the focus back to where it was.
      remove();
    },
    refill: (next, nextContext) => {
      put(next as typeof message, nextContext);
      box.classList.add('still');
      if (isModal || nextContext.isAsked) box.focus({ preventScroll: true });
    },
  };
}

const classesAt = (position = 'middle'): string =>
  position
    .split(' ')
    .map((word) => `at-${word}`)
    .join(' ');

function isInside(box: HTMLElement, { clientX, clientY }: MouseEvent): boolean {
  const { left, right, top, bottom } = box.getBoundingClientRect();
  return clientX >= left && clientX <= right && clientY >= top && clientY <= bottom;
}
