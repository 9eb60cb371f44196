import { z } from 'zod';
import type { Action } from './action';
import { actionKindOf, actionsSchema } from './action';
import { addressSchema, cornersSchema, familySchema, hexSchema, idSchema } from './bounds';
import { blockKindOf, blockSchema, placedBlocks } from './block';
import { conversationSchema } from './conversation';
import type { Placement } from '../pacing/placement';

const words = (most: number) => z.string().min(1).max(most);

export const POSITIONS = ['top start', 'top', 'top end', 'start', 'middle', 'end', 'bottom start', 'bottom', 'bottom end'] as const;
export const ENTRANCES = ['none', 'fade', 'rise', 'drop', 'glide', 'grow', 'unfold'] as const;
export const FORMATS = ['popup', 'banner', 'chat', 'inset', 'tab', 'quiet'] as const;
export type Format = (typeof FORMATS)[number];

const common = () => ({
  id: idSchema(),
  /** Says what the message is to a screen reader where it has no heading. */
  label: z.string().max(200).optional(),
  /** The accent; the text on it is black or white, whichever reads better. */
  colour: hexSchema().optional(),
  corners: cornersSchema().optional(),
  /** A font that the site's pages bring; the system's without one. */
  font: familySchema().optional(),
});
const blocks = () => z.array(blockSchema()).max(30);
/** Seconds until closing is offered. */
const after = () => z.number().min(0).max(60).optional();
const slotName = () => z.string().regex(/^[a-z0-9][a-z0-9_-]{0,59}$/i);

export const messageSchema = () =>
  z.discriminatedUnion('format', [
    z.strictObject({
      ...common(),
      format: z.literal('popup'),
      position: z.enum(POSITIONS).optional(),
      /** A dim behind it makes the pop-up modal; without one the page stays usable. */
      dim: z.boolean().optional(),
      entrance: z.enum(ENTRANCES).optional(),
      width: z.int().min(220).max(960).optional(),
      closes: z.strictObject({ button: z.boolean(), dim: z.boolean(), escape: z.boolean(), after: after() }),
      blocks: blocks(),
    }),
    z.strictObject({
      ...common(),
      format: z.literal('banner'),
      edge: z.enum(['top', 'bottom']),
      /** Makes room for itself instead of lying over the page. */
      pushes: z.boolean().optional(),
      slot: slotName().optional(),
      closes: z.strictObject({ button: z.boolean(), escape: z.boolean(), after: after() }),
      blocks: blocks(),
    }),
    z.strictObject({
      ...common(),
      format: z.literal('chat'),
      sender: z.strictObject({ name: words(80), role: z.string().max(80).optional(), picture: addressSchema().optional() }),
      /** What the bubble says before it is opened; without it the thread opens at once. */
      bubble: words(300).optional(),
      conversation: conversationSchema(),
    }),
    z.strictObject({
      ...common(),
      format: z.literal('inset'),
      into: z.union([z.strictObject({ slot: slotName() }), z.strictObject({ selector: words(500) })]),
      how: z.enum(['fill', 'before', 'after']).optional(),
      closes: z.strictObject({ button: z.boolean() }),
      blocks: blocks(),
    }),
    z.strictObject({
      ...common(),
      format: z.literal('tab'),
      edge: z.enum(['start', 'end', 'bottom']),
      text: words(60),
      opens: idSchema(),
    }),
    z.strictObject({ ...common(), format: z.literal('quiet'), does: actionsSchema() }),
  ]);
export type Message = z.infer<ReturnType<typeof messageSchema>>;
export type MessageOf<F extends Format> = Extract<Message, { format: F }>;

/** What holds its place while the message stands: one at a time is shown there. */
export function placeOf(message: Message): Placement {
  switch (message.format) {
    case 'popup':
      return 'overlay';
    case 'banner':
      return message.slot ? `slot:${message.slot}` : message.edge;
    case 'chat':
      return 'corner';
    case 'inset':
      return `slot:${'slot' in message.into ? message.into.slot : message.into.selector}`;
    case 'tab':
      return `slot:tab-${message.edge}`;
    case 'quiet':
      return 'none';
  }
}

/** Every list of actions that an answer or a button of the message starts, with where it stands. */
export function actionsOf(message: Message): { path: (string | number)[]; does: readonly Action[] }[] {
  if (message.format === 'tab') return [{ path: ['opens'], does: [{ kind: 'message', id: message.opens }] }];
  if (message.format === 'quiet') return [{ path: ['does'], does: message.does }];
  if (message.format === 'chat')
    return message.conversation.steps.flatMap((step, index) => [
      ...(step.does ? [{ path: ['conversation', 'steps', index, 'does'], does: step.does }] : []),
      ...(step.asks?.kind === 'choice'
        ? step.asks.options.flatMap(({ does }, at) =>
            does ? [{ path: ['conversation', 'steps', index, 'asks', 'options', at, 'does'], does }] : [],
          )
        : []),
    ]);
  return placedBlocks(message.blocks, ['blocks']).flatMap(({ block, path: at }) =>
    blockKindOf(block)
      .actions(block)
      .map(({ path, does }) => ({ path: [...at, ...path], does })),
  );
}

/** How a message can be left by the visitor; empty means that it traps them. */
export function waysToClose(message: Message): string[] {
  if (message.format === 'chat' || message.format === 'tab' || message.format === 'quiet') return [message.format];
  const { closes } = message;
  return [
    ...(closes.button ? ['button'] : []),
    ...('dim' in closes && closes.dim && message.format === 'popup' && message.dim !== false ? ['dim'] : []),
    ...('escape' in closes && closes.escape ? ['escape'] : []),
    ...(actionsOf(message).some(({ does }) => does.some((action) => ['closes', 'ends'].includes(actionKindOf(action).ending)))
      ? ['block']
      : []),
    // An inset is part of the page: nobody has to get rid of it.
    ...(message.format === 'inset' ? ['inset'] : []),
  ];
}
