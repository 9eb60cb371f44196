import { useEffect, useRef, useState } from 'react';
import type { Place } from '@/core/pacing/place';
import type { Rule } from '@/core/rules/schema';
import type { Rehearsed, RehearsedDays } from '@/server/thinking/task';

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
    const take = (line: string): void => {
      if (mine !== latest.current || line === '') return;
      const answer = JSON.parse(line) as Rehearsed | { error: { message: string } };
      if ('error' in answer) return setState((before) => ({ ...before, isRunning: false, error: answer.error.message }));
      const more = isFirst ? 1 : 0;
      isFirst = false;
      setState((before) => ({ report: answer, isRunning: true, error: undefined, answers: before.answers + more }));
    };
    // In an effect, and not at once: the question is put when the screen has been drawn.
    void Promise.resolve().then(() => mine === latest.current && setState((before) => ({ ...before, isRunning: true })));
    readLines('/api/rehearse', body, abort.signal, take)
      .catch((cause: unknown) => {
        if (abort.signal.aborted) return;
        console.debug('rehearsal failed', cause);
        setState((before) => ({ ...before, error: 'The studio cannot be reached. Your rule is safe; try again in a moment.' }));
      })
      .finally(() => mine === latest.current && !abort.signal.aborted && setState((before) => ({ ...before, isRunning: false })));
    return () => abort.abort();
  }, [body, isReady, attempt]);
  return { ...state, retry: () => setAttempt((count) => count + 1) };
}

async function readLines(url: string, body: string, signal: AbortSignal, take: (line: string) => void): Promise<void> {
  const response = await fetch(url, { method: 'POST', body, signal, headers: { 'content-type': 'application/json' } });
  const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (let chunk = await reader?.read(); chunk && !chunk.done; chunk = await reader?.read()) {
    const lines = (rest + chunk.value).split('\n');
    rest = lines.pop() ?? '';
    lines.forEach(take);
  }
  take(rest);
}
