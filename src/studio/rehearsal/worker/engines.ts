// Which of two engines rehearses a question: the browser's worker as soon as it hears and has what it needs; the server until then, for
// what the server alone can judge, and once the worker has failed. Pure: an event gives the next state and what is to be done about it.
import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';
import type { FromWorker, ToWorker } from './messages';

export interface Engines {
  /** A worker that has failed is not tried again. */
  readonly worker: 'absent' | 'starting' | 'ready' | 'failed';
  /** The questions under way, by their numbers, and who works on each. */
  readonly asked: ReadonlyMap<number, { readonly question: RehearsalQuestion; readonly at: 'worker' | 'server' }>;
}

export type Happening =
  | { readonly kind: 'asked'; readonly ask: number; readonly question: RehearsalQuestion }
  /** Nobody waits for it any more. */
  | { readonly kind: 'left'; readonly ask: number }
  /** Somebody comes back to the screen: segments or visits may have changed meanwhile. */
  | { readonly kind: 'returned' }
  | { readonly kind: 'workerSaid'; readonly message: FromWorker }
  | { readonly kind: 'workerFailed' }
  | { readonly kind: 'serverReported'; readonly ask: number; readonly report: Rehearsed }
  /** With words for a person where something went wrong. */
  | { readonly kind: 'serverEnded'; readonly ask: number; readonly error?: string | undefined };

export type Todo =
  | { readonly do: 'startWorker' }
  | { readonly do: 'endWorker' }
  | { readonly do: 'tellWorker'; readonly message: ToWorker }
  | { readonly do: 'askServer'; readonly ask: number; readonly question: RehearsalQuestion }
  | { readonly do: 'leaveServer'; readonly ask: number }
  | { readonly do: 'report'; readonly ask: number; readonly report: Rehearsed }
  | { readonly do: 'end'; readonly ask: number; readonly error?: string | undefined }
  /** What the report was worked out of has changed. */
  | { readonly do: 'askAgain'; readonly ask: number };

type Next = readonly [Engines, readonly Todo[]];

export const NO_ENGINES: Engines = { worker: 'absent', asked: new Map() };

export function happen(engines: Engines, happening: Happening): Next {
  switch (happening.kind) {
    case 'asked':
      return begin(engines, happening.ask, happening.question);
    case 'left':
      return leave(engines, happening.ask);
    case 'returned':
      return [engines, toWorker(engines, { check: true })];
    case 'workerSaid':
      return hear(engines, happening.message);
    case 'workerFailed': {
      const moved = [...engines.asked].filter(([, { at }]) => at === 'worker');
      const asked = new Map([...engines.asked].map(([ask, { question }]) => [ask, { question, at: 'server' as const }]));
      return [
        { worker: 'failed', asked },
        [{ do: 'endWorker' }, ...moved.map(([ask, { question }]): Todo => ({ do: 'askServer', ask, question }))],
      ];
    }
    case 'serverReported':
      return isAt(engines, happening.ask, 'server') ? [engines, [{ ...happening, do: 'report' }]] : [engines, []];
    case 'serverEnded':
      return isAt(engines, happening.ask, 'server') ? end(engines, happening.ask, happening.error) : [engines, []];
  }
}

function begin(engines: Engines, ask: number, question: RehearsalQuestion): Next {
  const at = engines.worker === 'ready' ? 'worker' : 'server';
  const asked = new Map(engines.asked).set(ask, { question, at });
  if (at === 'worker') return [{ ...engines, asked }, toWorker(engines, { ask, question })];
  // The server answers sooner than a worker that has yet to start, which fetches meanwhile what the next question needs.
  const start: Todo[] = engines.worker === 'absent' ? [{ do: 'startWorker' }] : [];
  const next: Engines = { worker: engines.worker === 'absent' ? 'starting' : engines.worker, asked };
  return [next, [...start, ...toWorker(next, { prepare: question }), { do: 'askServer', ask, question }]];
}

function leave(engines: Engines, ask: number): Next {
  const found = engines.asked.get(ask);
  if (!found) return [engines, []];
  return [without(engines, ask), found.at === 'server' ? [{ do: 'leaveServer', ask }] : toWorker(engines, { cancel: ask })];
}

function hear(engines: Engines, message: FromWorker): Next {
  if (engines.worker === 'absent' || engines.worker === 'failed') return [engines, []];
  if ('isUp' in message) return [{ ...engines, worker: 'ready' }, []];
  if ('changed' in message) return [engines, [...engines.asked.keys()].map((ask): Todo => ({ do: 'askAgain', ask }))];
  const { ask } = message;
  const found = engines.asked.get(ask);
  // Of a question that was left or has gone to the server meanwhile.
  if (found?.at !== 'worker') return [engines, []];
  if ('beyond' in message) {
    const asked = new Map(engines.asked).set(ask, { ...found, at: 'server' });
    return [{ ...engines, asked }, [{ do: 'askServer', ask, question: found.question }]];
  }
  if ('failed' in message) return end(engines, ask, message.failed);
  const report: Todo = { do: 'report', ask, report: message.report };
  if (!message.isLast) return [engines, [report]];
  return [engines, [report, { do: 'end', ask }]];
}

/** It stays among those asked: what it was worked out of may change. */
const end = (engines: Engines, ask: number, error: string | undefined): Next => [engines, [{ do: 'end', ask, error }]];

const isAt = ({ asked }: Engines, ask: number, at: 'worker' | 'server'): boolean => asked.get(ask)?.at === at;

const toWorker = ({ worker }: Engines, message: ToWorker): Todo[] =>
  worker === 'absent' || worker === 'failed' ? [] : [{ do: 'tellWorker', message }];

function without(engines: Engines, ask: number): Engines {
  const asked = new Map(engines.asked);
  asked.delete(ask);
  return { ...engines, asked };
}
