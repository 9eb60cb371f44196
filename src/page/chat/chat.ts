import type { Conversation, ConversationStep } from '@/core/messages/conversation';
import { stepAfter } from '@/core/messages/conversation';
import type { Message, MessageOf } from '@/core/messages/message';
import type { Context, Drawn } from '../show/context';
import { absolute, make } from '../show/element';
import { readableInk } from '../show/colour';
import { closeOnEscape, makeHost, raise, settle } from '../show/frame';
import type { PersonTalk } from './person';
import { showWho, talkWithPerson } from './person';
import { chatStyle } from './style';
import { ofDocument } from '../own';

const TYPING_MS = 450;
const INPUTS = { text: 'text', email: 'email', phone: 'tel', number: 'number', date: 'date' } as const;

/** A bubble at the corner with its sender, opening into the thread, which asks one thing at a time, and goes on with a person where there is one. */
export function drawChat(given: Message, context: Context): Drawn {
  const message = given as MessageOf<'chat'>;
  const { preview } = context.deps;
  const { element: host, root } = makeHost(chatStyle);
  const box = make('div', '', { class: 'chat' });
  box.dir = getComputedStyle(ofDocument('documentElement')).direction;
  if (message.font) box.style.fontFamily = message.font;
  const { colour } = message;
  if (colour) box.style.cssText += `;--accent:${colour};--own:${colour};--on:${readableInk(colour)}`;
  root.append(box);
  const before = ofDocument('activeElement');
  if (preview) preview(host);
  else {
    ofDocument('documentElement').append(host);
    raise(box);
  }
  settle();
  const panel = makeThread(box, message, context);
  if (panel.isPutBy) panel.putBy(false);
  else if (panel.isKept) panel.show(false);
  else if (message.bubble && !context.isAsked) {
    drawBubble(box, message, context, message.bubble, {
      open: () => {
        context.deps.onOutcome('clicked');
        panel.show(true);
      },
      close: () => context.close('button'),
    });
  } else panel.show(context.isAsked);
  return {
    remove: () => {
      const isInside = ofDocument('activeElement') === host;
      host.remove();
      if (isInside) (before as HTMLElement | null)?.focus({ preventScroll: true });
    },
  };
}

function drawBubble(
  box: HTMLElement,
  { sender }: MessageOf<'chat'>,
  context: Context,
  text: string,
  { open, close }: { open: () => void; close?: () => void },
): HTMLElement {
  const button = make('button', '', { type: 'button', class: 'bubble', 'aria-expanded': 'false' });
  const words = make('span', '', { class: 'words', 'aria-live': 'polite' });
  const said = make('span', context.text(text));
  words.append(make('b', sender.name), said);
  button.append(face(sender), words);
  box.replaceChildren(button, ...(close ? [closeButton(context, close)] : []));
  context.on(button, 'click', open);
  return said;
}

/** The sender's picture, or the first letter of the name. */
function face({ name, picture }: MessageOf<'chat'>['sender']): HTMLElement {
  if (picture) return make('img', '', { class: 'face', src: absolute(picture), alt: '', width: '40', height: '40' });
  return make('span', [...name][0] ?? '', { class: 'face', 'aria-hidden': 'true' });
}

function closeButton(context: Context, does: () => void): HTMLElement {
  const close = make('button', '×', { type: 'button', class: 'close', 'aria-label': 'Close' });
  context.on(close, 'click', does);
  return close;
}

interface Thread {
  readonly show: (takesFocus: boolean) => void;
  readonly putBy: (takesFocus: boolean) => void;
  readonly isKept: boolean;
  readonly isPutBy: boolean;
}

function makeThread(box: HTMLElement, message: MessageOf<'chat'>, given: Context): Thread {
  const { sender, conversation } = message;
  let small: HTMLElement | undefined;
  let hasBegun = false;
  // Whoever closes a conversation with a person puts it by, to come back to.
  const close: Context['close'] = (how) => {
    if (small) return;
    if (talk.putBy()) putBy(true);
    else given.close(how);
  };
  const context = { ...given, close };
  const panel = make('section', '', { class: 'thread', role: 'dialog', 'aria-label': message.label ?? sender.name, tabindex: '-1' });
  const head = make('div', '', { class: 'head' });
  const who = make('div', '', { class: 'who' });
  who.append(make('b', sender.name), ...(sender.role ? [make('span', sender.role)] : []));
  head.append(
    face(sender),
    who,
    closeButton(context, () => close('button')),
  );
  const log = make('div', '', { class: 'log', role: 'log', 'aria-live': 'polite', tabindex: '0', 'aria-label': sender.name });
  const answers = make('div', '', { class: 'answers' });
  panel.append(head, log, answers);
  const talk = talkWithPerson(message, context, {
    box,
    log,
    answers,
    onUnseen: () => small && (small.textContent = unseenWords(talk.unseen())),
    onWho: (speaker) => {
      showWho(who, speaker);
      const { base, talk: about } = context.deps;
      if (speaker.picture && about)
        head.firstElementChild?.replaceWith(
          face({ name: speaker.name, picture: `${base}i/${about.host.siteKey}/${speaker.picture}.webp` }),
        );
    },
  });

  function begin(takesFocus: boolean): void {
    if (hasBegun) return;
    hasBegun = true;
    closeOnEscape(context, box);
    if (talk.kept) talk.begin(takesFocus);
    else run({ conversation, log, answers, context, takesFocus, talk });
  }

  function show(takesFocus: boolean): void {
    small = undefined;
    box.replaceChildren(panel);
    begin(takesFocus);
    if (talk.kept || talk.unseen()) talk.look();
    log.scrollTop = log.scrollHeight;
    if (takesFocus && !context.deps.preview) panel.focus({ preventScroll: true });
  }

  function putBy(takesFocus: boolean): void {
    begin(false);
    small = drawBubble(box, message, context, unseenWords(talk.unseen()), { open: () => show(true) });
    if (takesFocus) (box.firstElementChild as HTMLElement).focus({ preventScroll: true });
  }

  return { show, putBy, isKept: talk.kept !== undefined, isPutBy: talk.kept?.isSmall ?? false };
}

const unseenWords = (unseen: number): string => (unseen > 0 ? `${unseen} new` : 'Go on');

function run({
  conversation,
  log,
  answers,
  context,
  takesFocus,
  talk,
}: {
  conversation: Conversation;
  log: HTMLElement;
  answers: HTMLElement;
  context: Context;
  takesFocus: boolean;
  talk: PersonTalk;
}): void {
  const fields: Record<string, string | number> = {};
  let email: string | undefined;
  let hasReplied = false;
  let mayFocus = takesFocus;
  const say = (text: string, by: 'them' | 'us'): void => {
    const element = make('p', text, { class: by });
    log.append(element);
    log.scrollTop = log.scrollHeight;
    talk.note(by === 'us' ? 'script' : 'visitor', text, element);
  };

  function begin(step: ConversationStep): void {
    say(context.text(step.says), 'us');
    answers.replaceChildren();
    if (step.does) context.perform(step.does);
    if (!step.asks) return goOn(step, '');
    if (step.asks.kind === 'choice') {
      answers.append(
        ...step.asks.options.map(({ label, does }) => {
          const button = make('button', label, { type: 'button' });
          context.on(button, 'click', () => answer(step, label, label, does));
          return button;
        }),
      );
    } else answers.append(drawQuestion(step, step.asks));
    if (mayFocus && !context.deps.preview) answers.querySelector<HTMLElement>('input,button')?.focus({ preventScroll: true });
  }

  function drawQuestion(step: ConversationStep, asks: Exclude<NonNullable<ConversationStep['asks']>, { kind: 'choice' }>): HTMLElement {
    const form = make('form', '', { novalidate: '' });
    const input = make('input', '', {
      type: INPUTS[asks.kind],
      'aria-label': context.text(step.says),
      maxlength: '2000',
      autocomplete: asks.kind === 'email' ? 'email' : 'off',
      ...(asks.optional ? {} : { required: '' }),
    });
    const error = make('p', '', { class: 'error', role: 'alert' });
    form.append(input, make('button', '→', { type: 'submit', 'aria-label': 'Send' }), error);
    context.on(form, 'submit', (event) => {
      event.preventDefault();
      const value = input.value.trim();
      if (asks.kind !== 'number') input.value = value;
      error.textContent = input.checkValidity() ? '' : input.validationMessage;
      if (error.textContent) return input.focus();
      if (asks.kind === 'email' && value) email = value;
      answer(step, value || '–', asks.kind === 'number' && value ? Number(value) : value);
    });
    return form;
  }

  function answer(step: ConversationStep, said: string, value: string | number, does?: ConversationStep['does']): void {
    mayFocus = true;
    if (!hasReplied) context.deps.onOutcome('replied');
    hasReplied = true;
    if (step.asks && value !== '') fields[step.asks.field] = value;
    say(said, 'them');
    answers.replaceChildren();
    if (does) context.perform(does);
    goOn(step, said);
  }

  function goOn(step: ConversationStep, said: string): void {
    const next = stepAfter(conversation, step, said);
    if (next) return context.later(() => begin(next), context.deps.preview ? 0 : TYPING_MS);
    answers.replaceChildren();
    if (hasReplied) context.send({ ...(email ? { email } : {}), fields }, undefined);
    if (conversation.person) talk.begin(mayFocus);
  }

  if (conversation.steps[0]) begin(conversation.steps[0]);
}
