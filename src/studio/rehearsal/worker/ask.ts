import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';
import { callInLines } from '../../parts/net/call';
import { RefusedLine } from '../../parts/net/readLines';
import type { Happening, Todo } from './engines';
import { happen, NO_ENGINES } from './engines';
import type { FromWorker } from './messages';

export interface Listener {
  readonly onReport: (report: Rehearsed) => void;
  /** Nothing more comes; with words for a person if something went wrong. */
  readonly onEnd: (error?: string) => void;
  /** Something that the report was worked out of has changed: ask again. */
  readonly onChange: () => void;
}

let engines = NO_ENGINES;
let worker: Worker | undefined;
let next = 1;
const listeners = new Map<number, Listener>();
const serverRequests = new Map<number, AbortController>();

/** Puts a question to the worker that rehearses, or to the server where the worker cannot; what is returned ends it. */
export function askRehearsal(question: RehearsalQuestion, listener: Listener): () => void {
  const ask = next++;
  listeners.set(ask, listener);
  take({ kind: 'asked', ask, question });
  return () => {
    listeners.delete(ask);
    take({ kind: 'left', ask });
  };
}

/** Looks whether segments, page sets or places have changed elsewhere. */
export const lookForChanges = (): void => take({ kind: 'returned' });

function take(happening: Happening): void {
  const [after, todos] = happen(engines, happening);
  engines = after;
  todos.forEach(carryOut);
}

function carryOut(todo: Todo): void {
  switch (todo.do) {
    case 'startWorker':
      worker = startWorker();
      return;
    case 'endWorker':
      worker?.terminate();
      worker = undefined;
      return;
    case 'tellWorker':
      worker?.postMessage(todo.message);
      return;
    case 'askServer':
      askServer(todo.ask, todo.question);
      return;
    case 'leaveServer':
      serverRequests.get(todo.ask)?.abort();
      serverRequests.delete(todo.ask);
      return;
    case 'report':
      listeners.get(todo.ask)?.onReport(todo.report);
      return;
    case 'end':
      listeners.get(todo.ask)?.onEnd(todo.error);
      return;
    case 'askAgain':
      listeners.get(todo.ask)?.onChange();
  }
}

function startWorker(): Worker {
  const started = new Worker(new URL('./entry.ts', import.meta.url), { type: 'module' });
  started.onmessage = ({ data }: MessageEvent<FromWorker>) => take({ kind: 'workerSaid', message: data });
  started.onerror = (event) => {
    console.error('The worker that rehearses failed; the server does from now on', event.message);
    take({ kind: 'workerFailed' });
  };
  return started;
}

function askServer(ask: number, question: RehearsalQuestion): void {
  const abort = new AbortController();
  const { signal } = abort;
  serverRequests.set(ask, abort);
  callInLines('POST /api/rehearse', { body: question, signal, onLine: (report) => take({ kind: 'serverReported', ask, report }) })
    .then(() => take({ kind: 'serverEnded', ask }))
    .catch((cause: unknown) => {
      if (signal.aborted) return;
      console.debug('rehearsal failed', cause);
      const words = 'The studio cannot be reached. Your rule is safe; try again in a moment.';
      take({ kind: 'serverEnded', ask, error: cause instanceof RefusedLine ? cause.message : words });
    });
}
