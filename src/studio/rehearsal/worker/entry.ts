// The entry of the worker that rehearses: apart, so that the screen stays quick under one's hands.
import type { RehearsalQuestion } from '@/core/rehearsal/rehearsed';
import type { FromWorker, ToWorker } from './messages';
import { Beyond, Rehearser } from './rehearser';
import { RefusedAnswer, studioServer } from './server';

const port = globalThis as unknown as {
  postMessage: (message: FromWorker) => void;
  onmessage: ((event: MessageEvent<ToWorker>) => void) | null;
};
const rehearser = new Rehearser(studioServer);
/** After the first, reports are not needed more often than anyone can look. */
const EVERY_MS = 150;
/** Whoever types a number has soon typed the next; and the server is to answer the question itself first. */
const QUIET_MS = 500;
let waiting: ReturnType<typeof setTimeout> | undefined;
let preparing: AbortController | undefined;
let current: { readonly ask: number; readonly abort: AbortController } | undefined;

/** Lets messages in: a timer would wait some milliseconds for nothing. */
function pause(): Promise<void> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(undefined);
  });
}

async function carryOut({ ask, question }: Extract<ToWorker, { ask: number }>): Promise<void> {
  current?.abort.abort();
  clearTimeout(waiting);
  const abort = new AbortController();
  current = { ask, abort };
  if (rehearser.lacks(question)) {
    port.postMessage({ ask, beyond: 'answers that are not here yet' });
    waiting = setTimeout(() => void prepare(question), QUIET_MS);
    return;
  }
  let last: Extract<FromWorker, { report: unknown }> | undefined;
  let saidAt = -Infinity;
  try {
    for await (const report of rehearser.rehearse(question, abort.signal)) {
      if (abort.signal.aborted) return;
      if (report) {
        last = { ask, report, isLast: report.done === report.runs };
        if (last.isLast || performance.now() - saidAt > EVERY_MS) {
          saidAt = performance.now();
          port.postMessage(last);
        }
      }
      await pause();
      if (abort.signal.aborted) return;
    }
    if (await rehearser.hasChanged()) port.postMessage({ changed: true });
  } catch (cause) {
    if (abort.signal.aborted) return;
    if (cause instanceof Beyond) port.postMessage({ ask, beyond: cause.message });
    else {
      console.debug('rehearsal failed', cause);
      const words = 'The studio cannot be reached. Your rule is safe; try again in a moment.';
      port.postMessage({ ask, failed: cause instanceof RefusedAnswer ? cause.message : words });
    }
  }
}

/** In the background: meanwhile the server rehearses, which says itself what is wrong. A newer question ends it. */
async function prepare(question: RehearsalQuestion): Promise<void> {
  preparing?.abort();
  const mine = new AbortController();
  preparing = mine;
  await rehearser.prepare(question, mine.signal).catch((cause: unknown) => {
    if (!mine.signal.aborted) console.debug('could not prepare', cause);
  });
}

port.onmessage = ({ data }) => {
  if ('ask' in data) void carryOut(data);
  else if ('prepare' in data) void prepare(data.prepare);
  else if ('cancel' in data) {
    if (current?.ask === data.cancel) current.abort.abort();
  } else {
    rehearser.hasChanged().then(
      (has) => has && port.postMessage({ changed: true }),
      (cause: unknown) => console.debug('could not look for changes', cause),
    );
  }
};
port.postMessage({ isUp: true });
