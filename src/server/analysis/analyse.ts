import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { AnswerTo, FromThread, Task, ToThread } from './task';

interface Asked {
  readonly onPart: (part: unknown, isLast: boolean) => void;
  readonly onFailure: (cause: Error) => void;
}

interface Thread {
  readonly worker: Worker;
  readonly asked: Map<number, Asked>;
  next: number;
}

// Next loads modules in several bundles: the thread lives on the process.
const shared = globalThis as typeof globalThis & { crindleAnalysis?: Thread | undefined };

/** Built by scripts/build.mjs. Not a URL of this module: the studio's own bundler would take it for one of its parts. */
const entry = (): string => join(process.cwd(), 'dist', 'server', 'analysis.mjs');

function thread(): Thread {
  if (shared.crindleAnalysis) return shared.crindleAnalysis;
  const worker = new Worker(entry(), { resourceLimits: { maxOldGenerationSizeMb: 6000 } });
  const made: Thread = { worker, asked: new Map(), next: 1 };
  const over = (cause: Error): void => {
    if (shared.crindleAnalysis === made) shared.crindleAnalysis = undefined;
    for (const { onFailure } of made.asked.values()) onFailure(cause);
    made.asked.clear();
  };
  worker.on('message', (message: FromThread) => {
    const asked = made.asked.get(message.id);
    if ('failed' in message) asked?.onFailure(new Error(message.failed));
    else asked?.onPart(message.part, message.isLast);
    if ('failed' in message || message.isLast) made.asked.delete(message.id);
  });
  worker.on('error', over);
  worker.on('exit', (code) => over(new Error(`The thread that counts ended with ${code}; ask again`)));
  worker.unref();
  shared.crindleAnalysis = made;
  return made;
}

/** Gives a task to the thread that counts and rehearses; `onPart` gets what is known on the way. Rejects when `signal` ends it. */
export function analyse<T extends Task>(
  task: T,
  { signal, onPart }: { signal?: AbortSignal; onPart?: (part: AnswerTo<T>) => void } = {},
): Promise<AnswerTo<T>> {
  const { worker, asked, next: id } = thread();
  thread().next++;
  return new Promise((resolve, reject) => {
    const post = (message: ToThread): void => worker.postMessage(message);
    signal?.addEventListener(
      'abort',
      () => {
        if (!asked.delete(id)) return;
        post({ id, cancel: true });
        reject(new DOMException('Nobody waits for it any more', 'AbortError'));
      },
      { once: true },
    );
    asked.set(id, {
      onPart: (part, isLast) => (isLast ? resolve(part as AnswerTo<T>) : onPart?.(part as AnswerTo<T>)),
      onFailure: reject,
    });
    post({ id, task });
  });
}
