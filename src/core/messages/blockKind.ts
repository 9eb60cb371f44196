import type * as FastCheck from 'fast-check';
import type { z } from 'zod';
import type { Action } from './action';

type Fc = typeof FastCheck.default;

/** Which part of the page script draws it: the one that every message needs, or the one for what few have. */
export type DrawnBy = 'show' | 'extras';

/** Everything there is to know of one kind of block. How it is drawn stands in the page script. */
export interface BlockKind<B extends { readonly kind: string }, By extends DrawnBy = DrawnBy> {
  readonly kind: B['kind'];
  readonly schema: () => z.ZodType<B>;
  readonly label: string;
  readonly make: () => B;
  readonly drawnBy: By;
  /** Where it usually stands in a message, from the top. */
  readonly rank: number;
  /** The actions that it starts, with where they stand in it. An `answer` is given by a visitor who stands before it. */
  readonly actions: (block: B) => readonly { readonly path: readonly (string | number)[]; readonly does: readonly Action[] }[];
  /** Blocks that stand in it. */
  readonly inside?: (block: B) => readonly { readonly kind: string }[];
  readonly example: (fc: Fc) => FastCheck.Arbitrary<B>;
}
