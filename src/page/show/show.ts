import type { Dismissal } from '@/core/history/visitor';
import type { Flow } from '@/core/flows/flow';
import type { Action, ActionOf } from '@/core/messages/action';
import { merged } from '@/core/messages/merge';
import type { Message } from '@/core/messages/message';
import { placeOf } from '@/core/messages/message';
import type { Context, Deps, DrawFormat, Drawn } from './context';
import { drawBanner, drawInset } from './inPage';
import { absolute } from './element';
import { drawPopup } from './popup';
import { drawTab } from './tab';

export type { SentForm } from './context';

export type ShowFlow = (flow: Flow, start: string, deps: Deps) => () => void;

const openBeside = (url: string): void => void open(absolute(url), '_blank', 'noopener');

/** What happens to the message itself is `perform`'s, and what is reported the page script's. */
type Stays = 'message' | 'report' | 'tag' | 'score' | 'close' | 'end';
/** What leads away from the page: every other kind of action. */
const LEADS: { readonly [K in Exclude<Action['kind'], Stays>]: (action: ActionOf<K>) => void } = {
  phone: ({ number }) => void (location.href = `tel:${number}`),
  calendar: ({ url }) => openBeside(url),
  page: ({ url, newTab }) => void (newTab ? openBeside(url) : (location.href = absolute(url))),
};

/** Draws a flow from one of its messages on: what buttons and answers lead to takes the place of what they stand in. */
export const showFlow: ShowFlow = (flow, start, deps) => {
  let drawn: { message: Message; frame: Drawn } | undefined;
  let stops: (() => void)[] = [];
  let hasActed = false;
  let isOver = false;
  /** A tab stays: what it opened goes back to it. */
  let tab: Message | undefined;

  const stopAll = (): void => {
    for (const stop of stops) stop();
    stops = [];
  };
  const over = (): void => {
    if (isOver) return;
    isOver = true;
    stopAll();
    drawn?.frame.remove();
    drawn = undefined;
    deps.onEnd();
  };
  const noteActed = (outcome: 'clicked' | 'replied'): void => {
    hasActed = true;
    deps.onOutcome(outcome);
  };

  function close(how: Dismissal): void {
    if (deps.preview || isOver) return;
    if (tab && drawn?.message !== tab) return void go(tab.id, true);
    if (!hasActed) deps.onOutcome('dismissed', how);
    over();
  }

  function perform(does: readonly Action[], { byLink = false } = {}): void {
    const next = does.find((action) => action.kind === 'message');
    const ends = does.some(({ kind }) => kind === 'end');
    if (does.some(({ kind }) => kind !== 'close' && kind !== 'end')) noteActed('clicked');
    if (deps.preview && !next) return;
    for (const action of does) {
      deps.onAct(action);
      if (byLink) continue;
      (LEADS as Partial<Record<Action['kind'], (action: never) => void>>)[action.kind]?.(action as never);
    }
    if (next) go(next.id, true);
    else if (ends) over();
    else if (does.some(({ kind }) => kind === 'close')) close('answer');
  }

  function contextFor(message: Message, isAsked: boolean): Context {
    const openedAt = Date.now();
    const wait = 'closes' in message && 'after' in message.closes ? (message.closes.after ?? 0) * 1000 : 0;
    return {
      deps,
      isAsked,
      text: (text) => merged(text, deps.values),
      perform,
      send: ({ email, fields }, does) => {
        hasActed = true;
        if (!deps.preview) deps.onSend({ ...(email ? { email } : {}), fields });
        if (does?.length) perform(does.filter(({ kind }) => !deps.preview || kind === 'message'));
        return !does?.some(({ kind }) => kind === 'message' || kind === 'close' || kind === 'end');
      },
      close: (how) => {
        if (Date.now() - openedAt >= wait) close(how);
      },
      later: (run, ms) => {
        const timer = setTimeout(deps.guard('later', run), ms);
        stops.push(() => clearTimeout(timer));
      },
      onRemove: (stop) => void stops.push(stop),
      on: (target, type, listener) => {
        const guarded = deps.guard(type, listener);
        target.addEventListener(type, guarded);
        stops.push(() => target.removeEventListener(type, guarded));
      },
    };
  }

  function go(id: string, isAsked: boolean): void {
    const message = flow.messages.find((one) => one.id === id);
    if (!message || isOver) return;
    if (message.format === 'quiet') return perform(message.does);
    if (message.format === 'chat') {
      deps.guard('chat', async () => {
        const { drawChat } = await deps.loadChat();
        if (!isOver) draw(message, drawChat, isAsked);
      })();
      return;
    }
    draw(message, FORMATS[message.format], isAsked);
  }

  function draw(message: Message, format: DrawFormat, isAsked: boolean): void {
    stopAll();
    const before = drawn;
    if (before) deps.onStep(message.id);
    const context = contextFor(message, isAsked);
    if (message.format === 'tab') tab = message;
    deps.onPlace(placeOf(message));
    if (before?.frame.refill && before.message.format === message.format && placeOf(before.message) === placeOf(message)) {
      before.frame.refill(message, context);
      drawn = { message, frame: before.frame };
      return;
    }
    // The next one is there before the last one goes: nothing flashes in between.
    drawn = { message, frame: format(message, context) };
    before?.frame.remove();
  }

  go(start, false);
  return () => {
    hasActed = true;
    over();
  };
};

const FORMATS: Record<'popup' | 'banner' | 'inset' | 'tab', DrawFormat> = {
  popup: drawPopup,
  banner: drawBanner,
  inset: drawInset,
  tab: drawTab,
};
