import type { BlockOf, ExtraKind } from '@/core/messages/block';
import type { Action } from '@/core/messages/action';
import type { Message, MessageOf } from '@/core/messages/message';
import type { Dismissal, Outcome } from '@/core/history/visitor';
import type { Placement } from '@/core/pacing/placement';
import type { Host } from '../decide/host';

/** Draws a block of those that come in a part of their own. */
export type DrawExtra = (block: BlockOf<ExtraKind>, context: Context, id: string) => HTMLElement;

/** Draws once it is there, so that a screen reader hears of it. Returns what brings back that which stood there before, if anything did. */
export type PlaceInPage = (
  message: MessageOf<'banner' | 'inset'>,
  host: HTMLElement,
  box: HTMLElement,
  context: Context,
  put: (message: Message, context: Context) => void,
) => (() => void) | undefined;

export interface SentForm {
  readonly email?: string;
  readonly fields: Record<string, string | number | boolean>;
}

/** A conversation that this browser goes on with, on whatever page. */
export interface KeptTalk {
  readonly thread: string;
  readonly showing: string;
  readonly campaign: string;
  readonly message: string;
  /** Put by as a bubble. */
  readonly isSmall?: boolean | undefined;
  /** The last line that was seen. */
  readonly seq: number;
  /** What it is drawn by, whatever is live by then. */
  readonly drawn: Message;
}

/** What a conversation needs, to be kept and to go on. */
export interface Talk {
  readonly host: Host;
  readonly showing: string;
  readonly campaign: string;
}

/** What a flow needs of whoever shows it. */
export interface Deps {
  readonly values: Readonly<Record<string, string>>;
  /** Loaded before a flow begins that has such a block. */
  readonly drawExtra: DrawExtra;
  readonly extraStyle?: string | undefined;
  /** Has the answers of a form checked elsewhere before it is sent. */
  readonly atForm?: ((form: HTMLFormElement, block: BlockOf<'form'>, context: Context) => void) | undefined;
  /** The collector's address with a slash at the end; none in a preview. */
  readonly base?: string | undefined;
  /** Both are loaded before a flow begins that stands at an edge of the window or between the page's own elements. */
  readonly placeStyle?: string | undefined;
  readonly placeInPage?: PlaceInPage | undefined;
  /** None in a preview. */
  readonly talk?: Talk | undefined;
  readonly loadChat: () => Promise<{ readonly drawChat: DrawFormat }>;
  /** UTC ms, by the clock that decides: a try-out's runs ahead. */
  readonly now: () => number;
  /** When this browser first saw what the key names (UTC ms): now, if never before. */
  readonly firstSeen: (key: string) => number;
  readonly onOutcome: (outcome: Outcome, how?: Dismissal) => void;
  /** Another of the flow's messages is seen. */
  readonly onStep: (message: string) => void;
  readonly onSend: (sent: SentForm) => void;
  /** A report, a tag or points. */
  readonly onAct: (action: Action) => void;
  /** The flow stands somewhere else now. */
  readonly onPlace: (place: Placement) => void;
  readonly onEnd: () => void;
  readonly guard: <A extends unknown[]>(entryPoint: string, run: (...given: A) => unknown) => (...given: A) => void;
  /** Puts what is drawn somewhere of its own instead of over the page; nothing takes the focus then. */
  readonly preview?: ((host: HTMLElement) => void) | undefined;
}

/** What the drawing of one message may do. Everything it starts is stopped when the message goes. */
export interface Context {
  readonly deps: Deps;
  readonly text: (text: string) => string;
  readonly perform: (does: readonly Action[], given?: { readonly byLink?: boolean }) => void;
  readonly send: (sent: SentForm, does: readonly Action[] | undefined) => boolean;
  /** The visitor closes the message; nothing happens before closing is offered. */
  readonly close: (how: Dismissal) => void;
  readonly later: (run: () => void, ms: number) => void;
  readonly onRemove: (stop: () => void) => void;
  readonly on: (target: EventTarget, type: string, listener: (event: Event) => void) => void;
  /** The visitor asked for it, so it may take the focus. */
  readonly isAsked: boolean;
}

export interface Drawn {
  readonly remove: () => void;
  /** Draws another message of the same format in the same frame, without a new entrance. */
  readonly refill?: (message: Message, context: Context) => void;
}
export type DrawFormat = (message: Message, context: Context) => Drawn;
