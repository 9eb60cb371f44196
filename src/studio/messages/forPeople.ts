import { placedBlocks } from '@/core/messages/block';
import type { Block } from '@/core/messages/block';
import { blockKindOf } from '@/core/messages/block';
import type { Message } from '@/core/messages/message';
import { placeOf } from '@/core/messages/message';
import type { Expr } from '@/core/logic/expr';
import type { PeopleCondition } from '@/core/people/condition';
import type { Rule } from '@/core/rules/schema';
import type { ToForetell } from '../campaigns/useForetold';
import { pathKey } from './board';

/** The rule for those of its people only who are these, too. */
export const ruleFor = (rule: Rule, people: Expr<PeopleCondition>): Rule => ({
  ...rule,
  people: rule.people ? { all: [rule.people, people] } : people,
});

export interface ForSomeBlock {
  readonly key: string;
  readonly block: Block;
  /** The kind of block and its first words. */
  readonly name: string;
}

/** Blocks of a message that are for some people only. */
export function blocksForSome(message: Message): ForSomeBlock[] {
  if (!('blocks' in message)) return [];
  return placedBlocks(message.blocks, ['blocks']).flatMap(({ block, path }) =>
    block.for ? [{ key: pathKey(path), block, name: nameOf(block) }] : [],
  );
}

function nameOf(block: Block): string {
  const { label } = blockKindOf(block);
  const text = 'text' in block ? block.text : 'question' in block ? block.question : '';
  const words = text.length > 28 ? `${text.slice(0, 27)}…` : text;
  return words ? `${label} “${words}”` : label;
}

/** What is asked to know how many see what: the rule itself, each block's people, and, where all of the message is for some, who sees nothing. */
export function toForetell(message: Message, rule: Rule): ToForetell[] {
  const some = blocksForSome(message);
  if (some.length === 0 || !('blocks' in message)) return [];
  const place = placeOf(message);
  const asked = some.map(({ key, block }) => ({ id: key, rule: ruleFor(rule, block.for as Expr<PeopleCondition>), place }));
  const isAllForSome = message.blocks.every((block) => block.for !== undefined);
  const nobody = isAllForSome
    ? [{ id: NOTHING, rule: ruleFor(rule, { none: message.blocks.flatMap((block) => block.for ?? []) }), place }]
    : [];
  return [{ id: ALL, rule, place }, ...asked, ...nobody];
}

export const ALL = 'all';
export const NOTHING = 'nothing';
