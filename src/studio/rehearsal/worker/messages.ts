import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';

/** What the screen says to the worker: a question takes the place of the one before. */
export type ToWorker =
  | { readonly ask: number; readonly question: RehearsalQuestion }
  | { readonly cancel: number }
  /** Has anything changed that answers are worked out of? */
  | { readonly check: true };

/** What the worker says; `ask` is the number of the question. */
export type FromWorker =
  | { readonly ask: number; readonly report: Rehearsed; readonly isLast: boolean }
  /** In words for a person. */
  | { readonly ask: number; readonly failed: string }
  /** Only the server can rehearse this. */
  | { readonly ask: number; readonly beyond: string }
  | { readonly changed: true };
