import type { Message, MessageOf } from '@/core/messages/message';
import type { Context, Drawn } from './context';
import { dress, keepFocus, makeHost, raise, settle } from './frame';
import { make } from './element';
import { styleText } from './style';
import { ofDocument } from '../own';

/** A small handle at an edge, by which the visitor opens a message by hand. */
export function drawTab(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'tab'>;
  const host = makeHost(styleText + (context.deps.placeStyle ?? ''));
  const button = make('button', context.text(message.text), { type: 'button', class: `tab ${message.edge}`, 'aria-haspopup': 'dialog' });
  dress(button, message);
  context.on(button, 'click', () => context.perform([{ kind: 'message', id: message.opens }]));
  host.root.append(button);
  const { preview } = context.deps;
  if (preview) preview(host.element);
  else {
    ofDocument('documentElement').append(host.element);
    raise(button);
    settle();
    // Back from what it opened: the focus comes back too.
    if (context.isAsked) button.focus({ preventScroll: true });
  }
  return { remove: keepFocus(host.element) };
}
