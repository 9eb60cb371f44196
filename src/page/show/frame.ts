import type { Message } from '@/core/messages/message';
import type { Context } from './context';
import { drawBlocks } from './blocks';
import { readableInk } from './colour';
import { later } from '../guard';
import { make } from './element';
import { isElement, ofDocument } from '../own';

export interface Host {
  readonly element: HTMLElement;
  readonly root: ShadowRoot;
}

/** An element of ours with a shadow root, so that no style gets in or out. */
export function makeHost(css: string): Host {
  const element = document.createElement('div');
  element.setAttribute('data-crindle', '');
  const root = element.attachShadow({ mode: 'open' });
  adopt(root, css);
  for (const type of ['keydown', 'keypress', 'keyup', 'beforeinput', 'input', 'copy', 'cut', 'paste'])
    addEventListener(type, keepKeys, true);
  return { element, root };
}

/** A constructed style sheet: no inline style, so a strict content security policy lets it pass. */
function adopt(root: ShadowRoot, css: string): void {
  const style = new CSSStyleSheet();
  style.replaceSync(css);
  root.adoptedStyleSheets.push(style);
}

/**
 * What is pressed inside a message is not for the page, which may have keys of its own; what it does by itself (typing, sending) goes on. The
 * message's own element is told (`keydownEnter`), but for what is held with Shift or belongs to a word being composed.
 */
function keepKeys(event: Event): void {
  const { target, type, key, shiftKey, isComposing } = event as KeyboardEvent;
  if (!isElement(target) || !target.hasAttribute('data-crindle')) return;
  event.stopImmediatePropagation();
  if (!shiftKey && !isComposing && !target.dispatchEvent(new (event.constructor as typeof Event)(type + key, { cancelable: true })))
    event.preventDefault();
}

const FREE_AFTER_MS = 300;
const MODAL = ':modal,[aria-modal=true],html[inert],body[inert],main[inert]';

/** Runs it once no modal dialog, ours or the page's, holds back what lies behind it; not at all if the element has gone by then. */
export function whenFree(element: HTMLElement, run: () => void): void {
  const modals = [...document.querySelectorAll(MODAL)];
  // One within a shadow, ours or the page's, lies over the middle of the window.
  for (let root: DocumentOrShadowRoot | null | undefined = document; root;) {
    const met = root.elementFromPoint(innerWidth / 2, innerHeight / 2);
    modals.push(...[met?.closest(MODAL) ?? []].flat());
    root = met?.shadowRoot === root ? null : met?.shadowRoot;
  }
  if (!element.isConnected) return;
  if (modals.some((modal) => modal !== element && modal.checkVisibility())) later(() => whenFree(element, run), FREE_AFTER_MS);
  else run();
}

/** Above everything that the page can stack, but behind a modal dialog; where there are no popovers the highest z-index has to do. */
export function raise(element: HTMLElement): void {
  element.style.display = 'none';
  whenFree(element, () => {
    element.style.display = '';
    element.popover = 'manual';
    element.showPopover?.();
    settle();
  });
}

/** Direction, colours and corners of the page and the message. */
export function dress(element: HTMLElement, message: Message): void {
  const around = (element.getRootNode() as ShadowRoot).host?.parentElement;
  element.dir = getComputedStyle(around && around !== ofDocument('documentElement') ? around : ofDocument('body')).direction;
  if (ofDocument('documentElement').lang) element.lang = ofDocument('documentElement').lang;
  if (message.colour) {
    element.style.setProperty('--accent', message.colour);
    element.style.setProperty('--on-accent', readableInk(message.colour));
  }
  if (message.font) element.style.fontFamily = message.font;
  if (message.corners !== undefined) element.style.setProperty('--corners', `${message.corners}px`);
}

/** The close button and the blocks of a message, in place of what was there; the element gets its name. */
export function fill(element: HTMLElement, message: Extract<Message, { blocks: unknown }>, context: Context): void {
  dress(element, message);
  const { closes } = message;
  const content = drawBlocks(message.blocks, context);
  if (closes.button) {
    const button = make('button', '×', { type: 'button', class: 'close', 'aria-label': 'Close' });
    context.on(button, 'click', () => context.close('button'));
    const after = 'after' in closes ? (closes.after ?? 0) : 0;
    if (after > 0 && !context.deps.preview) {
      button.hidden = true;
      context.later(() => (button.hidden = false), after * 1000);
    }
    content.unshift(button);
  }
  element.replaceChildren(...content);
  const root = element.getRootNode() as ShadowRoot;
  const { extraStyle } = context.deps;
  if (extraStyle && root.adoptedStyleSheets.length < 2) adopt(root, extraStyle);
  // It is called by what one reads first.
  const first = element.querySelector('h2') ?? element.querySelector('p,legend,label');
  element.setAttribute('aria-label', message.label ?? (first?.textContent || 'Message'));
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
    context.close('escape');
  };
  context.on(document, 'keydown', escape);
  context.on(host, 'keydownEscape', escape);
}

/** What stands at the bottom stands on a banner that lies there. Called whenever something of ours comes or goes. */
export function settle(): void {
  const roots = [...document.querySelectorAll('[data-crindle]')].map(({ shadowRoot }) => shadowRoot);
  const height = Math.max(0, ...roots.map((root) => root?.querySelector<HTMLElement>('.over.bottom')?.offsetHeight ?? 0));
  for (const root of roots) root?.querySelector<HTMLElement>('.tab,.chat')?.style.setProperty('--lift', `${height}px`);
}

/** Gives the focus back to where it was when what held it is taken away. */
export function keepFocus(host: HTMLElement, isModal = false): () => void {
  const before = ofDocument('activeElement');
  return () => {
    const activeElement = ofDocument('activeElement');
    host.remove();
    settle();
    // From a modal one it cannot have gone anywhere else but to nowhere.
    if (activeElement === host || (isModal && activeElement === ofDocument('body')))
      (before as HTMLElement | null)?.focus({ preventScroll: true });
  };
}
