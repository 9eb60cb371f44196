import { Worker } from 'node:worker_threads';
import type { FromThread, Task, ToThread } from './task';

interface Asked {
  readonly onPart: (part: unknown, isLast: boolean) => void;
  readonly onFailure: (cause: Error) => void;
}

interface Thread {
  readonly worker: Worker;
  readonly asked: Map<number, Asked>;
}

/** Threads that count and rehearse. A site is one thread's, so that nothing of it is in memory twice. */
export class Threads {
  readonly #entry: URL;
  readonly #threads: (Thread | undefined)[];
  readonly #megabytes: number;
  #next = 1;

  /** `entry`: the module that a thread runs; `megabytes`: what all of them may keep. */
  constructor(entry: URL, { threads, megabytes }: { threads: number; megabytes: number }) {
    this.#entry = entry;
    this.#threads = Array.from({ length: threads }, () => undefined);
    this.#megabytes = megabytes;
  }

  /** Gives a task to its site's thread; `onPart` gets what is known on the way, and the last word. Returns what ends it early. */
  ask(task: Task, { onPart, onFailure }: Asked): () => void {
    const { worker, asked } = this.#threadOf(task.site);
    const id = this.#next++;
    const post = (message: ToThread): void => worker.postMessage(message);
    asked.set(id, { onPart, onFailure });
    post({ id, task });
    return () => void (asked.delete(id) && post({ id, cancel: true }));
  }

  async end(): Promise<void> {
    await Promise.all(this.#threads.flatMap((thread) => thread?.worker.terminate() ?? []));
  }

  #threadOf(site: number): Thread {
    const nth = site % this.#threads.length;
    return (this.#threads[nth] ??= this.#start(nth));
  }

  #start(nth: number): Thread {
    const worker = new Worker(this.#entry, { workerData: { megabytes: this.#megabytes / this.#threads.length } });
    const made: Thread = { worker, asked: new Map() };
    const over = (cause: Error): void => {
      if (this.#threads[nth] === made) this.#threads[nth] = undefined;
      for (const { onFailure } of made.asked.values()) onFailure(cause);
      made.asked.clear();
    };
    worker.on('message', (message: FromThread) => {
      const one = made.asked.get(message.id);
      if ('failed' in message || message.isLast) made.asked.delete(message.id);
      if ('failed' in message) one?.onFailure(new Error(message.failed));
      else one?.onPart(message.part, message.isLast);
    });
    worker.on('error', over);
    worker.on('exit', (code) => over(new Error(`The thread that counts ended with ${code}; ask again`)));
    return made;
  }
}
