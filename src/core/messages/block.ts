import { z } from 'zod';
import type { BlockKind } from './blockKind';
import { columnsBlock } from './blocks/columns';
import type { ForSome } from './simpleBlock';
import { SIMPLE_BLOCKS, simpleSchemas, withForSome } from './simpleBlock';

/** Every kind of block. */
export const BLOCK_KINDS = { ...SIMPLE_BLOCKS, columns: columnsBlock } as const;

type Kinds = typeof BLOCK_KINDS;
export type Block = { [K in keyof Kinds]: Kinds[K] extends BlockKind<infer B> ? B & ForSome : never }[keyof Kinds];
export type BlockOf<K extends Block['kind']> = Extract<Block, { kind: K }>;
/** Those that come in a part of the page script of their own. */
export type ExtraKind = { [K in keyof Kinds]: Kinds[K] extends BlockKind<infer _B, 'extras'> ? K : never }[keyof Kinds];

/** Each entry stands under its own name. */
BLOCK_KINDS satisfies { readonly [K in Block['kind']]: BlockKind<BlockOf<K>> };

export const blockKindOf = <B extends Block>({ kind }: B): BlockKind<B> => BLOCK_KINDS[kind] as unknown as BlockKind<B>;

export const blockKinds = (): readonly BlockKind<Block>[] => Object.values(BLOCK_KINDS) as unknown as readonly BlockKind<Block>[];

export const blockSchema = () =>
  z.discriminatedUnion('kind', [withForSome(columnsBlock.schema()), ...simpleSchemas()]) as unknown as z.ZodType<Block>;

/** Every block with where it stands, those in columns after the columns that hold them. */
export const placedBlocks = (
  blocks: readonly Block[],
  at: readonly (string | number)[],
): readonly { readonly block: Block; readonly path: readonly (string | number)[] }[] =>
  blocks.flatMap((block, index) => {
    const path = [...at, index];
    const inside =
      block.kind === 'columns' ? (['start', 'end'] as const).flatMap((side) => placedBlocks(block[side], [...path, side])) : [];
    return [{ block, path }, ...inside];
  });

/** Every block, those in columns included. */
export const allBlocks = (blocks: readonly Block[]): readonly Block[] =>
  blocks.flatMap((block) => [block, ...((blockKindOf(block).inside?.(block) ?? []) as readonly Block[])]);
