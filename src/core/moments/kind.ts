import type * as FastCheck from 'fast-check';
import type { z } from 'zod';
import type { Truth } from '../logic/truth';
import type { Editor } from '../typing/editor';
import type { Said } from '../typing/said';
import type { Reading } from '../typing/spoken';
import type { Vocabulary } from '../typing/vocabulary';
import type { Signal } from './signal';
import type { Timeline } from './timeline';

/** What the page carries of a kind of moment. `t` is ms since the page opened, `openedAt` the opening in UTC ms. */
export interface MomentRuntime<C> {
  readonly holds: (moment: C, line: Timeline, t: number, openedAt: number) => Truth;
  /** The next instant after `t` at which a clock could turn it true if no signal comes; Infinity if none. */
  readonly wakesAt?: (moment: C, line: Timeline, t: number) => number;
  /** Is this signal the one that the moment names, so that pacing `each` shows again at it? `now` is UTC ms. */
  readonly names?: (moment: C, signal: Signal, now: number) => boolean;
}

/** Everything there is to know of one kind of moment. */
export interface MomentKind<C extends { readonly kind: string }> {
  readonly kind: C['kind'];
  readonly schema: () => z.ZodType<C>;
  readonly runtime: MomentRuntime<C>;
  /** Reads after "when they". */
  readonly words: (moment: C) => string;
  /** What was found where it asked, at `t` ms since the page opened. */
  readonly found: (moment: C, line: Timeline, t: number) => string;
  /** True at an instant and not from then on: it may not be denied. */
  readonly isInstant: boolean;
  /** Names an element, and whether the page watches it for clicks or for coming into view. */
  readonly watches: 'click' | 'view' | undefined;
  /** Whenever the first is true, is the second of its kind true as well? All of it has to be certain. */
  readonly implies: (first: C, second: C) => boolean;
  /** Is it true from the very opening, so that to deny it is never true? */
  readonly isAlways: (moment: C) => boolean;
  readonly editor: Editor<C>;
  /** What it makes of what was typed, without the "not" before it. */
  readonly typed: (said: Said, vocabulary: Vocabulary) => readonly Reading<C>[];
  readonly example: (fc: typeof FastCheck.default) => FastCheck.Arbitrary<C>;
}
