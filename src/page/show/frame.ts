import type { Message } from '@/core/messages/message';
import type { Context } from './context';
import { drawBlocks } from './blocks';
import { readableInk } from './colour';
import { make } from './element';
import { styleText } from './style';

export interface Host {
  readonly element: HTMLElement;
  readonly root: ShadowRoot;
}

/** An element of ours with a shadow root, so that no style gets in or out. */
export function makeHost(css = styleText): Host {
  const element = document.createElement('div');
  element.setAttribute('data-crindle', '');
  const root = element.attachShadow({ mode: 'open' });
  // A constructed style sheet: no inline style, so a strict content security policy lets it pass.
  const style = new CSSStyleSheet();
  style.replaceSync(css);
  root.adoptedStyleSheets = [style];
  for (const type of ['keydown', 'keypress', 'keyup', 'beforeinput', 'input', 'copy', 'cut', 'paste'])
    addEventListener(type, keepKeys, true);
  return { element, root };
}

/** What is pressed inside a message is not for the page, which may have keys of its own; what it does by itself (typing, sending) goes on. */
function keepKeys(event: Event): void {
  const { target } = event;
  if (!(target instanceof Element) || !target.hasAttribute('data-crindle')) return;
  event.stopImmediatePropagation();
  if (event.type === 'keydown' && (event as KeyboardEvent).key === 'Escape') target.dispatchEvent(new Event('escape'));
}

/** Above everything that the page can stack; where there are no popovers the highest z-index has to do. */
export function raise(element: HTMLElement): void {
  if (!element.showPopover) return;
  element.popover = 'manual';
  element.showPopover();
}

/** Direction, colours and corners of the page and the message. */
export function dress(element: HTMLElement, message: Message): void {
  const around = (element.getRootNode() as ShadowRoot).host?.parentElement;
  element.dir = getComputedStyle(around && around !== document.documentElement ? around : document.body).direction;
  if (document.documentElement.lang) element.lang = document.documentElement.lang;
  if (message.colour) {
    element.style.setProperty('--accent', message.colour);
    element.style.setProperty('--on-accent', readableInk(message.colour));
  }
  if (message.corners !== undefined) element.style.setProperty('--corners', `${message.corners}px`);
}

/** The close button and the blocks of a message, in place of what was there; the element gets its name. */
export function fill(element: HTMLElement, message: Extract<Message, { blocks: unknown }>, context: Context): void {
  dress(element, message);
  const { closes } = message;
  const content = drawBlocks(message.blocks, context);
  if (closes.button) {
    const button = make('button', '×', { type: 'button', class: 'close', 'aria-label': 'Close' });
    context.on(button, 'click', context.close);
    const after = 'after' in closes ? (closes.after ?? 0) : 0;
    if (after > 0 && !context.deps.preview) {
      button.hidden = true;
      context.later(() => (button.hidden = false), after * 1000);
    }
    content.unshift(button);
  }
  element.replaceChildren(...content);
  const heading = element.querySelector('h2');
  if (heading) heading.id = 'name';
  if (heading) element.setAttribute('aria-labelledby', 'name');
  else element.removeAttribute('aria-labelledby');
  element.setAttribute('aria-label', message.label ?? 'Message');
}

/** Escape closes the newest message that it can close, wherever the focus is, unless the page has used the key for something. */
export function closeOnEscape(context: Context, box: Element): void {
  const { host } = box.getRootNode() as ShadowRoot;
  host.setAttribute('data-crindle', 'escape');
  const escape = (event: Event): void => {
    if (event.type === 'keydown' && ((event as KeyboardEvent).key !== 'Escape' || event.defaultPrevented)) return;
    const all = document.querySelectorAll('[data-crindle=escape]');
    if (all[all.length - 1] !== host) return;
    event.preventDefault();
    context.close();
  };
  context.on(document, 'keydown', escape);
  context.on(host, 'escape', escape);
}

/** What stands at the bottom stands on a banner that lies there. Called whenever something of ours comes or goes. */
export function settle(): void {
  const roots = [...document.querySelectorAll('[data-crindle]')].map(({ shadowRoot }) => shadowRoot);
  const height = Math.max(0, ...roots.map((root) => root?.querySelector<HTMLElement>('.over.bottom')?.offsetHeight ?? 0));
  for (const root of roots) root?.querySelector<HTMLElement>('.tab,.chat')?.style.setProperty('--lift', `${height}px`);
}

/** Gives the focus back to where it was when what held it is taken away. */
export function keepFocus(host: HTMLElement, isModal = false): () => void {
  const before = document.activeElement;
  return () => {
    const { activeElement } = document;
    host.remove();
    settle();
    // From a modal one it cannot have gone anywhere else but to nowhere.
    if ((activeElement === host || (isModal && activeElement === document.body)) && before instanceof HTMLElement)
      before.focus({ preventScroll: true });
  };
}
