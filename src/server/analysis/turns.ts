import type { Task } from './task';

/** What somebody looks at a number for, and what may come a little later: a thread does one thing at a time. */
const QUICK: readonly Task['kind'][] = ['size', 'sizes', 'contributions', 'overlap', 'visits', 'recorded', 'answers'];
const SLOW: readonly Task['kind'][] = ['trend', 'trends', 'portfolio'];

/** Lets what is slow stand back, between two of its steps, while anything quick is under way. */
export class Turns {
  #quick = 0;
  #waiting: (() => void)[] = [];

  /** Begins a task; returns what says that it is over. */
  begin({ kind }: Pick<Task, 'kind'>): () => void {
    if (!QUICK.includes(kind)) return () => undefined;
    this.#quick++;
    return () => {
      this.#quick--;
      if (this.#quick > 0) return;
      for (const go of this.#waiting.splice(0)) go();
    };
  }

  /** Resolves once a task may take its next step. */
  async next({ kind }: Pick<Task, 'kind'>): Promise<void> {
    if (SLOW.includes(kind) && this.#quick > 0) await new Promise<void>((go) => this.#waiting.push(go));
  }
}
