// What is done to a flow while it is written. Every step gives a new flow; what is not touched stays the same object.
import { produce } from 'immer';
import type { Action } from '../messages/action';
import type { Block } from '../messages/block';
import { allBlocks, BLOCK_KINDS } from '../messages/block';
import { MOST_ID } from '../messages/bounds';
import type { Format, Message } from '../messages/message';
import type { Flow } from './flow';
import { MOST_MESSAGES } from './flow';

/** Where something stands in a message, as keys and places in lists: `['blocks', 2, 'buttons', 0, 'label']`. */
export type Path = readonly (string | number)[];

type Container = Record<string | number, unknown>;

/** What stands at a path; undefined where nothing does. */
export function valueAt(root: unknown, path: Path): unknown {
  let value = root;
  for (const key of path) value = value === null || typeof value !== 'object' ? undefined : (value as Container)[key];
  return value;
}

/** The same with another value at a path; undefined takes away what stands there. Nothing changes where the way to it is not there. */
export function withValue<T>(root: T, path: Path, value: unknown): T {
  return produce(root, (draft) => {
    const parent = valueAt(draft, path.slice(0, -1));
    const key = path.at(-1);
    if (parent === null || typeof parent !== 'object' || key === undefined) return;
    if (value !== undefined) (parent as Container)[key] = value;
    else if (Array.isArray(parent)) parent.splice(Number(key), 1);
    else Reflect.deleteProperty(parent, key);
  });
}

/** Puts something into a list before a place of it. */
export function withInserted<T>(root: T, list: Path, at: number, value: unknown): T {
  return produce(root, (draft) => {
    const met = valueAt(draft, list);
    if (Array.isArray(met)) met.splice(at, 0, value);
  });
}

/** Moves one of a list by so many places, as far as there are any. */
export function withMoved<T>(root: T, path: Path, by: number): T {
  return produce(root, (draft) => {
    const met = valueAt(draft, path.slice(0, -1));
    const from = Number(path.at(-1));
    if (!Array.isArray(met) || !(from in met)) return;
    const to = Math.max(0, Math.min(met.length - 1, from + by));
    const [moved] = met.splice(from, 1) as unknown[];
    met.splice(to, 0, moved);
  });
}

/**
 * Moves what stands at `from` into another list, or to another place of its own, before the one at `at` as it is now. Nothing changes where it
 * would come to stand within itself.
 */
export function withPlaced<T>(root: T, from: Path, list: Path, at: number): T {
  const value = valueAt(root, from);
  if (value === undefined || from.every((key, index) => String(list[index]) === String(key))) return root;
  const inserted = withInserted(root, list, at, value);
  if (inserted === root) return root;
  // What stood behind the new place has moved on by one.
  const isWithin = list.every((key, index) => String(from[index]) === String(key));
  const own = from.map((key, index) => (isWithin && index === list.length && Number(key) >= at ? Number(key) + 1 : key));
  return withValue(inserted, own, undefined);
}

export const withMessage = (flow: Flow, id: string, message: Message): Flow => ({
  ...flow,
  messages: flow.messages.map((one) => (one.id === id ? message : one)),
});

/** A name like `wanted` that no message has: "ask", "ask-2". */
export function unusedId({ messages }: Flow, wanted: string): string {
  const base = wanted.replace(/-\d+$/, '').slice(0, MOST_ID - 4);
  const taken = new Set(messages.map(({ id }) => id));
  if (!taken.has(wanted)) return wanted;
  for (let number = 2; ; number++) if (!taken.has(`${base}-${number}`)) return `${base}-${number}`;
}

const CLOSES = { button: true, dim: true, escape: true };

/** What a new message of each format is to begin with; a tab opens the message named. */
const FRESH: { readonly [F in Format]: (id: string, opens: string) => Extract<Message, { format: F }> } = {
  popup: (id) => ({
    id,
    format: 'popup',
    closes: CLOSES,
    blocks: [
      { kind: 'heading', text: 'What you want to say' },
      { kind: 'text', text: 'And why, in a sentence.' },
    ],
  }),
  banner: (id) => ({
    id,
    format: 'banner',
    edge: 'bottom',
    closes: { button: true, escape: true },
    blocks: [{ kind: 'text', text: 'What everybody should know' }, BLOCK_KINDS.buttons.make()],
  }),
  chat: (id) => ({
    id,
    format: 'chat',
    sender: { name: 'Our team' },
    bubble: 'May we help?',
    conversation: { steps: [{ id: 'question', says: 'What may we help with?', asks: { kind: 'text', field: 'question' } }] },
  }),
  inset: (id) => ({
    id,
    format: 'inset',
    into: { slot: 'offer' },
    closes: { button: false },
    blocks: [{ kind: 'heading', text: 'What you want to say' }],
  }),
  tab: (id, opens) => ({ id, format: 'tab', edge: 'end', text: 'Ask us', opens }),
  quiet: (id) => ({ id, format: 'quiet', does: [{ kind: 'tag', tag: 'seen' }] }),
};

/** Adds a message; the flow is as it was where it has as many as it may have. */
export function withNewMessage(flow: Flow, format: Format): { flow: Flow; id: string } {
  const id = unusedId(flow, format);
  if (flow.messages.length >= MOST_MESSAGES) return { flow, id: flow.start };
  return { flow: { ...flow, messages: [...flow.messages, FRESH[format](id, flow.start)] }, id };
}

/** A copy of a message, of this flow or from elsewhere, under a name of its own. */
export function withCopy(flow: Flow, message: Message): { flow: Flow; id: string } {
  if (flow.messages.length >= MOST_MESSAGES) return { flow, id: flow.start };
  const id = unusedId(flow, message.id);
  return { flow: { ...flow, messages: [...flow.messages, { ...message, id }] }, id };
}

/** All messages of another flow, under names of their own, leading to each other as they did there; as many as there is room for, or none. */
export function withFlow(flow: Flow, other: Flow): { flow: Flow; id: string } {
  if (flow.messages.length + other.messages.length > MOST_MESSAGES) return { flow, id: flow.start };
  let renamed = other;
  // By names that neither has, so that one that is renamed never takes the name of one that is yet to be.
  for (const { id } of other.messages) {
    const taken: Flow = { ...flow, messages: [...flow.messages, ...renamed.messages.filter((message) => message.id !== id)] };
    renamed = withRenamed(renamed, id, unusedId(taken, id));
  }
  return { flow: { ...flow, messages: [...flow.messages, ...renamed.messages] }, id: renamed.start };
}

/** Gives a message another name, wherever it is spoken of. Nothing changes where another has that name. */
export function withRenamed(flow: Flow, from: string, to: string): Flow {
  if (from === to || flow.messages.some(({ id }) => id === to)) return flow;
  const renamed = everyAction(flow, (action) => (action.kind === 'message' && action.id === from ? { ...action, id: to } : action));
  return {
    ...renamed,
    start: flow.start === from ? to : flow.start,
    messages: renamed.messages.map((message) => {
      const named = message.id === from ? { ...message, id: to } : message;
      return named.format === 'tab' && named.opens === from ? { ...named, opens: to } : named;
    }),
  };
}

/** Takes a message away; what led to it closes instead. The last one stays, and so does the one that a tab opens. */
export function withoutMessage(flow: Flow, id: string): Flow {
  const left = flow.messages.filter((message) => message.id !== id);
  const [first] = left;
  if (!first || left.some((message) => message.format === 'tab' && message.opens === id)) return flow;
  const rest = { ...flow, start: flow.start === id ? first.id : flow.start, messages: left };
  return everyAction(rest, (action) => (action.kind === 'message' && action.id === id ? { kind: 'close' } : action));
}

function everyAction(flow: Flow, change: (action: Action) => Action): Flow {
  const within = (value: unknown): unknown => {
    if (Array.isArray(value)) return unlessSame(value, value.map(within));
    if (value === null || typeof value !== 'object') return value;
    const entries = Object.entries(value).map(([key, one]) =>
      key === 'does' && Array.isArray(one)
        ? ([key, unlessSame(one, (one as Action[]).map(change))] as const)
        : ([key, within(one)] as const),
    );
    return entries.every(([key, one]) => one === (value as Container)[key]) ? value : Object.fromEntries(entries);
  };
  return { ...flow, messages: flow.messages.map((message) => within(message) as Message) };
}

const unlessSame = <T>(before: readonly T[], after: readonly T[]): readonly T[] =>
  after.every((one, index) => one === before[index]) ? before : after;

/** What a new block of a kind is, where an empty one would be nothing to see. */
export function freshBlock(kind: Block['kind']): Block {
  const made = BLOCK_KINDS[kind].make();
  if (made.kind === 'heading') return { ...made, text: 'A heading' };
  if (made.kind === 'text') return { ...made, text: 'What you want to say.' };
  if (made.kind === 'columns')
    return { ...made, start: [{ kind: 'text', text: 'On this side.' }], end: [{ kind: 'text', text: 'And on that.' }] };
  return made;
}

/** The same message whose forms may be sent without an email. */
export const withOptionalEmail = (message: Message): Message =>
  produce(message, (draft) => {
    if (!('blocks' in draft)) return;
    for (const block of allBlocks(draft.blocks))
      if (block.kind === 'form') for (const field of block.fields) if (field.kind === 'email') field.required = false;
  });
