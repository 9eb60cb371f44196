import { useEffect, useRef, useState } from 'react';
import type { Place } from '@/core/pacing/place';
import type { Rule } from '@/core/rules/schema';
import type { Rehearsed, RehearsedDays } from '@/server/thinking/task';
import { readLines, RefusedLine } from '../parts/readLines';

export interface RehearsalQuestion {
  readonly campaign: string;
  readonly place: Place;
  readonly rule: Rule;
  readonly days: RehearsedDays;
  readonly withOthers: boolean;
}

export interface RehearsalState {
  /** The newest that is known; of an older question until the first of a new one is there. */
  readonly report: Rehearsed | undefined;
  readonly isRunning: boolean;
  readonly error: string | undefined;
  /** How many questions have had their first counts. */
  readonly answers: number;
}

/** Rehearses a rule as it changes: a newer question ends the one before, and each answer grows as more is known. */
export function useRehearsal(question: RehearsalQuestion, isReady: boolean): RehearsalState & { readonly retry: () => void } {
  const [state, setState] = useState<RehearsalState>({ report: undefined, isRunning: true, error: undefined, answers: 0 });
  const [attempt, setAttempt] = useState(0);
  const body = JSON.stringify(question);
  const latest = useRef(0);
  useEffect(() => {
    if (!isReady) return;
    const mine = ++latest.current;
    const abort = new AbortController();
    let isFirst = true;
    const onLine = (answer: Rehearsed): void => {
      if (mine !== latest.current) return;
      const more = isFirst ? 1 : 0;
      isFirst = false;
      setState((before) => ({ report: answer, isRunning: true, error: undefined, answers: before.answers + more }));
    };
    // In an effect, and not at once: the question is put when the screen has been drawn.
    void Promise.resolve().then(() => mine === latest.current && setState((before) => ({ ...before, isRunning: true })));
    readLines<Rehearsed>('/api/rehearse', JSON.parse(body), { signal: abort.signal, onLine })
      .catch((cause: unknown) => {
        if (abort.signal.aborted) return;
        console.debug('rehearsal failed', cause);
        const message =
          cause instanceof RefusedLine ? cause.message : 'The studio cannot be reached. Your rule is safe; try again in a moment.';
        setState((before) => ({ ...before, error: message }));
      })
      .finally(() => mine === latest.current && !abort.signal.aborted && setState((before) => ({ ...before, isRunning: false })));
    return () => abort.abort();
  }, [body, isReady, attempt]);
  return { ...state, retry: () => setAttempt((count) => count + 1) };
}
