import { Worker } from 'node:worker_threads';
import type { FromThread, Task, ToThread } from './task';

interface Asked {
  readonly onPart: (part: unknown, isLast: boolean) => void;
  readonly onFailure: (cause: Error) => void;
}

interface Thread {
  readonly worker: Worker;
  readonly asked: Map<number, Asked>;
  /** By performance.now(); undefined until it has begun. */
  heardAt: number | undefined;
}

/** For so long no single step takes, whatever the site: one that does is never done, and stands in the way of everybody's. */
const SILENT_MS = 60_000;
const LOOK_MS = 1_000;

/** Threads that count and rehearse. A site is one thread's, so that nothing of it is in memory twice. */
export class Threads {
  readonly #entry: URL;
  readonly #threads: (Thread | undefined)[];
  readonly #megabytes: number;
  readonly #silentMs: number;
  readonly #looking: NodeJS.Timeout;
  #next = 1;

  /** `entry`: the module that a thread runs; `megabytes`: what all of them may keep; `silentMs`: whoever says nothing for so long is ended. */
  constructor(
    entry: URL,
    {
      threads,
      megabytes,
      silentMs = SILENT_MS,
      lookMs = LOOK_MS,
    }: { threads: number; megabytes: number; silentMs?: number; lookMs?: number },
  ) {
    this.#silentMs = silentMs;
    this.#looking = setInterval(() => this.#endSilent(), lookMs).unref();
    this.#entry = entry;
    this.#threads = Array.from({ length: threads }, () => undefined);
    this.#megabytes = megabytes;
  }

  /** Gives a task to its site's thread; `onPart` gets what is known on the way, and the last word. Returns what ends it early. */
  ask(task: Task, { onPart, onFailure }: Asked): () => void {
    const thread = this.#threadOf(task.site);
    const { worker, asked } = thread;
    const id = this.#next++;
    const post = (message: ToThread): void => worker.postMessage(message);
    // Whoever had nothing to do was right to say nothing.
    if (asked.size === 0 && thread.heardAt !== undefined) thread.heardAt = performance.now();
    asked.set(id, { onPart, onFailure });
    post({ id, task });
    return () => void (asked.delete(id) && post({ id, cancel: true }));
  }

  #endSilent(): void {
    for (const thread of this.#threads)
      if (thread?.heardAt !== undefined && thread.asked.size > 0 && performance.now() - thread.heardAt > this.#silentMs) {
        const seconds = Math.round(this.#silentMs / 1000);
        console.error(`A thread that counts has said nothing for ${seconds} s and is ended; it was at ${thread.asked.size} questions.`);
        this.#over(
          thread,
          new Error(`It took longer than ${seconds} s in one go and was given up: a condition with very many patterns can do that`),
        );
        void thread.worker.terminate();
      }
  }

  #over(thread: Thread, cause: Error): void {
    this.#threads.forEach((one, nth) => one === thread && (this.#threads[nth] = undefined));
    for (const { onFailure } of thread.asked.values()) onFailure(cause);
    thread.asked.clear();
  }

  async end(): Promise<void> {
    clearInterval(this.#looking);
    await Promise.all(this.#threads.flatMap((thread) => thread?.worker.terminate() ?? []));
  }

  #threadOf(site: number): Thread {
    const nth = site % this.#threads.length;
    return (this.#threads[nth] ??= this.#start());
  }

  #start(): Thread {
    const worker = new Worker(this.#entry, { workerData: { megabytes: this.#megabytes / this.#threads.length } });
    const made: Thread = { worker, asked: new Map(), heardAt: undefined };
    const over = (cause: Error): void => this.#over(made, cause);
    worker.on('message', (message: FromThread) => {
      made.heardAt = performance.now();
      if ('isAlive' in message) return;
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
