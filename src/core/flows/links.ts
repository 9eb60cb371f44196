import type { Action } from '../messages/action';
import { actionKindOf, openedBy } from '../messages/action';
import { placedBlocks } from '../messages/block';
import type { Message } from '../messages/message';
import { actionsOf } from '../messages/message';
import type { Path } from './edit';
import { valueAt } from './edit';
import type { Flow } from './flow';

/** One line of the storyboard: what a button, an answer, a step or a tab does. */
export interface Link {
  readonly from: string;
  /** Where its list of actions stands in the message; for a tab, where the name stands of what it opens. */
  readonly path: Path;
  /** The words on what starts it; '' for a quiet action. */
  readonly label: string;
  readonly does: readonly Action[];
  /** The message it leads to, if there is one; undefined where it ends in words. */
  readonly to: string | undefined;
  /** What it does besides, in words: "tags wants-plan". */
  readonly words: readonly string[];
}

/** Every line of a flow, message by message, from the top. `goal`: what counts as success. */
export function linksOf(flow: Flow, goal?: { readonly kind: string }): Link[] {
  const known = new Set(flow.messages.map(({ id }) => id));
  return flow.messages.flatMap((message) => linksFrom(message, { known, goal }));
}

/** Those that begin in one message. `known`: ids of the flow's messages. */
export function linksFrom(
  message: Message,
  { known, goal }: { readonly known: ReadonlySet<string>; readonly goal?: { readonly kind: string } | undefined },
): Link[] {
  return [...actionsOf(message), ...silentOf(message)].map(({ path, does }) => {
    const to = openedBy(does).find((id) => known.has(id));
    const rest = does.filter((action) => !(action.kind === 'message' && action.id === to));
    const nameOf = (id: string): string => (known.has(id) ? id : `${id}, which is not there`);
    const words = rest.map((action) => actionKindOf(action).words(action, { message: nameOf }));
    const kept = isForm(message, path) ? ['keeps a lead', ...(goal?.kind === 'form' ? ['counts as success'] : [])] : [];
    return { from: message.id, path, label: labelAt(message, path), does, to, words: [...kept, ...words] };
  });
}

/** Forms and ratings that do nothing more than keep what they are told have no list of actions yet. */
function silentOf(message: Message): { path: Path; does: readonly Action[] }[] {
  if (!('blocks' in message)) return [];
  return placedBlocks(message.blocks, ['blocks']).flatMap(({ block, path }) =>
    (block.kind === 'form' || block.kind === 'rating') && block.does === undefined ? [{ path: [...path, 'does'], does: [] }] : [],
  );
}

const isForm = (message: Message, path: Path): boolean =>
  (valueAt(message, path.slice(0, -1)) as { kind?: string } | undefined)?.kind === 'form';

/** What stands on the thing that does it. */
function labelAt(message: Message, path: Path): string {
  if (message.format === 'tab') return message.text;
  if (message.format === 'quiet') return '';
  const owner = valueAt(message, path.slice(0, -1)) as { label?: string; submit?: string; question?: string; says?: string } | undefined;
  return owner?.label ?? owner?.submit ?? owner?.question ?? owner?.says ?? '';
}
