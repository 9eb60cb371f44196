import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';
import { readLines, RefusedLine } from '../../parts/net/readLines';
import type { FromWorker, ToWorker } from './messages';

export interface Listener {
  readonly onReport: (report: Rehearsed) => void;
  /** Nothing more comes; with words for a person if something went wrong. */
  readonly onEnd: (error?: string) => void;
  /** Something that the report was worked out of has changed: ask again. */
  readonly onChange: () => void;
}

let worker: Worker | undefined;
/** Set once a worker has failed: then the server rehearses. */
let isBroken = false;
/** Set once the worker hears: until then the server answers sooner. */
let isUp = false;
let next = 1;
const listeners = new Map<number, Asked>();

interface Asked {
  readonly question: RehearsalQuestion;
  readonly abort: AbortController;
  readonly listener: Listener;
  isAtServer: boolean;
}

/** Puts a question to the worker that rehearses, or to the server where the worker cannot; what is returned ends it. */
export function askRehearsal(question: RehearsalQuestion, listener: Listener): () => void {
  const ask = next++;
  const abort = new AbortController();
  listeners.set(ask, { question, abort, listener, isAtServer: false });
  const running = workerThatRehearses();
  if (running && isUp) say(running, { ask, question });
  else {
    if (running) say(running, { prepare: question });
    askServer(ask);
  }
  return () => {
    abort.abort();
    listeners.delete(ask);
    if (worker) say(worker, { cancel: ask });
  };
}

/** Looks whether segments, page sets or places have changed elsewhere. */
export function lookForChanges(): void {
  if (worker) say(worker, { check: true });
}

const say = (to: Worker, message: ToWorker): void => to.postMessage(message);

function workerThatRehearses(): Worker | undefined {
  if (worker || isBroken) return worker;
  worker = new Worker(new URL('./entry.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<FromWorker>) => {
    if ('changed' in data) {
      for (const { listener } of listeners.values()) listener.onChange();
      return;
    }
    if ('isUp' in data) return void (isUp = true);
    const { listener } = listeners.get(data.ask) ?? {};
    if ('beyond' in data) askServer(data.ask);
    else if ('failed' in data) listener?.onEnd(data.failed);
    else {
      listener?.onReport(data.report);
      if (data.isLast) listener?.onEnd();
    }
  };
  worker.onerror = (event) => {
    console.error('The worker that rehearses failed; the server does from now on', event.message);
    isBroken = true;
    isUp = false;
    worker?.terminate();
    worker = undefined;
    for (const [ask, { isAtServer }] of listeners) if (!isAtServer) askServer(ask);
  };
  return worker;
}

function askServer(ask: number): void {
  const asked = listeners.get(ask);
  if (!asked) return;
  asked.isAtServer = true;
  const { question, abort, listener } = asked;
  readLines<Rehearsed>('/api/rehearse', question, { signal: abort.signal, onLine: listener.onReport })
    .then(() => listener.onEnd())
    .catch((cause: unknown) => {
      if (abort.signal.aborted) return;
      console.debug('rehearsal failed', cause);
      const words = 'The studio cannot be reached. Your rule is safe; try again in a moment.';
      listener.onEnd(cause instanceof RefusedLine ? cause.message : words);
    });
}
