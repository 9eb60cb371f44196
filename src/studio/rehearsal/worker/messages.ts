import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';

/** What the screen says to the worker: a question takes the place of the one before. */
export type ToWorker =
  | { readonly ask: number; readonly question: RehearsalQuestion }
  | { readonly cancel: number }
  /** Fetch what such a question needs. */
  | { readonly prepare: RehearsalQuestion }
  /** Has anything changed that answers are worked out of? */
  | { readonly check: true };

/** What the worker says; `ask` is the number of the question. */
export type FromWorker =
  | { readonly ask: number; readonly report: Rehearsed; readonly isLast: boolean }
  /** In words for a person. */
  | { readonly ask: number; readonly failed: string }
  /** The server had better rehearse this: it alone can, or the worker would have to ask much first. */
  | { readonly ask: number; readonly beyond: string }
  | { readonly changed: true }
  /** It hears what it is asked. */
  | { readonly isUp: true };
