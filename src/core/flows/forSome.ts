// Blocks that are for some people only.
import type { Expr } from '../logic/expr';
import type { Block } from '../messages/block';
import { allBlocks } from '../messages/block';
import type { Message } from '../messages/message';
import type { PeopleCondition } from '../people/condition';
import type { Flow } from './flow';

/** The flow with every block changed, those in columns before the columns that hold them; undefined takes a block out. */
export function mapBlocks(flow: Flow, change: (block: Block) => Block | undefined): Flow {
  const all = <B extends Block>(blocks: readonly B[]): B[] =>
    blocks.flatMap((block) => {
      const within = block.kind === 'columns' ? { ...block, start: all(block.start), end: all(block.end) } : block;
      const next = change(within);
      return next ? [next as B] : [];
    });
  return {
    ...flow,
    messages: flow.messages.map((message): Message => ('blocks' in message ? { ...message, blocks: all(message.blocks) } : message)),
  };
}

/** What one visitor is shown of a flow: the blocks that are for everybody, and those whose people they surely belong to. */
export const partFor = <L extends object>(flow: Flow, holds: (people: Expr<L>) => boolean | null): Flow =>
  mapBlocks(flow, (block) => (block.for && holds(block.for as unknown as Expr<L>) !== true ? undefined : block));

/** Whom the blocks of a flow are for, one by one. */
export const peopleIn = ({ messages }: Flow): Expr<PeopleCondition>[] =>
  messages.flatMap((message) => ('blocks' in message ? allBlocks(message.blocks).flatMap((block) => block.for ?? []) : []));
