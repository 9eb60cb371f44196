import type { Message, MessageOf } from '@/core/messages/message';
import type { Context, Drawn } from './context';
import { closeOnEscape, fill, keepFocus, makeHost, raise, settle } from './frame';
import { make } from './element';
import { styleText } from './style';
import { ofDocument } from '../own';

/** Over the page's edge, pushing the page aside, or in a slot. */
export function drawBanner(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'banner'>;
  const { preview, placeInPage } = context.deps;
  const isFixed = !message.slot && message.pushes !== true && !preview;
  const { host, box, put } = openBox(message, context, `banner ${message.edge} ${isFixed ? 'over' : 'flows'}`);
  if (preview) preview(host);
  else if (isFixed) {
    ofDocument('documentElement').append(host);
    raise(box);
  } else placeInPage?.(message, host, box, context, put);
  if (preview || isFixed) put(message, context);
  settle();
  return { remove: keepFocus(host), refill: put };
}

/** Part of the page: in a slot, or at an element. What a slot held comes back when the message goes. */
export function drawInset(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'inset'>;
  const { host, box, put } = openBox(message, context, 'inset');
  const { preview, placeInPage } = context.deps;
  preview?.(host);
  if (preview) put(message, context);
  const restore = preview ? undefined : placeInPage?.(message, host, box, context, put);
  const remove = keepFocus(host);
  return {
    remove: () => {
      remove();
      restore?.();
    },
    refill: put,
  };
}

function openBox(
  message: Message,
  context: Context,
  name: string,
): { host: HTMLElement; box: HTMLElement; put: NonNullable<Drawn['refill']> } {
  const host = makeHost(styleText + (context.deps.placeStyle ?? ''));
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
