import type * as FastCheck from 'fast-check';
import type { z } from 'zod';

type Fc = typeof FastCheck.default;

/** What becomes of the message when the action has been done. */
export type Ending =
  /** It stays. */
  | 'stays'
  /** Another message of the flow takes its place. */
  | 'message'
  | 'closes'
  /** It closes, and nothing more of the campaign comes in this page view. */
  | 'ends';

/** Everything there is to know of one kind of action. Who carries it out in the page stands in the page script. */
export interface ActionKind<A extends { readonly kind: string }> {
  readonly kind: A['kind'];
  readonly schema: () => z.ZodType<A>;
  readonly label: string;
  readonly make: () => A;
  /** What a button with it does, as words at the end of a line. */
  readonly words: (action: A, names: { readonly message: (id: string) => string }) => string;
  readonly ending: Ending;
  /** The message of the flow that it opens. */
  readonly opens?: (action: A) => string;
  readonly example: (fc: Fc) => FastCheck.Arbitrary<A>;
}
