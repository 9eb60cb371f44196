import type { Message } from '@/core/messages/message';
import { readableInk } from './colour';
import { drawBlock } from './blocks';
import { styleText } from './style';

export interface Sent {
  readonly email?: string;
  readonly fields: Record<string, string>;
}

export interface Callbacks {
  readonly onClick: () => void;
  readonly onSend: (sent: Sent) => void;
  /** `isConverted`: a form was sent before the message was closed. */
  readonly onClose: (isConverted: boolean) => void;
}

export type ShowMessage = (message: Message, callbacks: Callbacks, preview?: HTMLElement) => () => void;

/**
 * Draws a pop-up in a shadow root of its own, above everything the page can stack, and gives the focus back at the end.
 * With `preview` it is drawn inside that element instead and takes no focus.
 */
export const showMessage: ShowMessage = (message, callbacks, preview) => {
  const host = document.createElement('div');
  host.setAttribute('data-crindle', '');
  const root = host.attachShadow({ mode: 'open' });
  const style = new CSSStyleSheet();
  style.replaceSync(styleText);
  root.adoptedStyleSheets = [style];

  const dialog = document.createElement('dialog');
  dialog.tabIndex = -1;
  dialog.dir = getComputedStyle(document.documentElement).direction;
  let isConverted = false;
  let isClosed = false;

  const close = (): void => {
    if (isClosed || preview) return;
    isClosed = true;
    dialog.close(); // Gives the focus back to where it was.
    host.remove();
    callbacks.onClose(isConverted);
  };
  const actions = {
    onClick: callbacks.onClick,
    onClose: close,
    onSend: (sent: Sent): void => {
      isConverted = true;
      callbacks.onSend(sent);
    },
  };

  if (message.closes.button) dialog.append(closeButton(close));
  message.blocks.forEach((block, index) => dialog.append(drawBlock(block, index, actions)));
  nameDialog(dialog, message);
  if (message.colour) {
    dialog.style.setProperty('--accent', message.colour);
    dialog.style.setProperty('--on-accent', readableInk(message.colour));
  }
  root.append(dialog);

  if (preview) {
    dialog.setAttribute('open', '');
    dialog.setAttribute('part', 'preview');
    dialog.className = 'preview';
    preview.replaceChildren(host);
    return () => host.remove();
  }
  dialog.addEventListener('cancel', (event) => {
    event.preventDefault();
    if (message.closes.escape) close();
  });
  dialog.addEventListener('click', (event) => {
    if (message.closes.dim && event.target === dialog && !isInside(dialog, event)) close();
  });
  document.documentElement.append(host);
  dialog.showModal();
  dialog.focus();
  return close;
};

function closeButton(close: () => void): HTMLElement {
  const button = document.createElement('button');
  button.type = 'button';
  button.className = 'close';
  button.setAttribute('aria-label', 'Close');
  button.textContent = '×';
  button.addEventListener('click', close);
  return button;
}

function nameDialog(dialog: HTMLDialogElement, { label }: Message): void {
  const heading = dialog.querySelector('h2');
  if (heading) {
    heading.id = 'name';
    dialog.setAttribute('aria-labelledby', 'name');
  } else {
    dialog.setAttribute('aria-label', label ?? 'Message');
  }
}

/** A click on the dim has the dialog as its target, and so has one on its padding. */
function isInside(dialog: HTMLDialogElement, { clientX, clientY }: MouseEvent): boolean {
  const box = dialog.getBoundingClientRect();
  return clientX >= box.left && clientX <= box.right && clientY >= box.top && clientY <= box.bottom;
}
