import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Rehearsed, RehearsalQuestion } from '@/core/rehearsal/rehearsed';
import { steps } from '@/core/rehearsal/variants';
import { describeRule } from '@/core/rules/describe';
import type { Path } from '@/core/logic/expr';
import type { Rule } from '@/core/rules/schema';
import type { WordsFor } from '@/core/pages/names';
import { askRehearsal, lookForChanges } from './worker/ask';

export interface RehearsalState {
  /** The newest that is known; of an older question until the first of a new one is there. */
  readonly report: Rehearsed | undefined;
  /** What a sample lets one expect of the newest question, until everybody has been asked. */
  readonly expected: Rehearsed | undefined;
  /** The report grows still. */
  readonly isRunning: boolean;
  /** The first counts of the newest question take long. */
  readonly isLate: boolean;
  readonly error: string | undefined;
  /** How many questions have had their first counts. */
  readonly answers: number;
}

const LATE_MS = 300;

/** Rehearses a rule as it changes: a newer question ends the one before, and each answer grows as more is known. */
export function useRehearsal(
  question: RehearsalQuestion,
  { isReady, names }: { isReady: boolean; names: WordsFor },
): RehearsalState & { readonly retry: () => void } {
  const [state, setState] = useState<RehearsalState>({
    report: undefined,
    expected: undefined,
    isRunning: true,
    isLate: false,
    error: undefined,
    answers: 0,
  });
  const [attempt, setAttempt] = useState(0);
  const body = JSON.stringify(question);
  const namesNow = useRef(names);
  useEffect(() => {
    namesNow.current = names;
  }, [names]);
  // Before the screen is drawn: the worker can begin meanwhile.
  useLayoutEffect(() => {
    if (!isReady) return;
    const asked = JSON.parse(body) as RehearsalQuestion;
    let first: Rehearsed | undefined;
    const late = setTimeout(() => setState((before) => ({ ...before, isLate: true })), LATE_MS);
    const stop = askRehearsal(asked, {
      onReport: (report) => {
        if (report.isSample) {
          clearTimeout(late);
          setState((before) => ({ ...before, expected: report, isLate: false }));
          return;
        }
        const more = first ? 0 : 1;
        clearTimeout(late);
        const named = inWords(report, asked.rule, namesNow.current);
        // Where and when it shows is the same in every stage of an answer: what is drawn of it stays.
        first ??= named;
        const { showings, distributions } = first;
        setState((before) => ({
          report: { ...named, showings, distributions },
          expected: undefined,
          isRunning: report.done < report.runs,
          isLate: false,
          error: undefined,
          answers: before.answers + more,
        }));
      },
      onEnd: (error) => {
        clearTimeout(late);
        setState((before) => ({ ...before, isRunning: false, isLate: false, error }));
      },
      onChange: () => setAttempt((count) => count + 1),
    });
    return () => {
      clearTimeout(late);
      stop();
    };
  }, [body, isReady, attempt]);
  useEffect(() => {
    window.addEventListener('focus', lookForChanges);
    return () => window.removeEventListener('focus', lookForChanges);
  }, []);
  return useMemo(() => ({ ...state, retry: () => setAttempt((count) => count + 1) }), [state]);
}

/** Whoever rehearses knows ids and paths, the screen knows names and phrases. */
function inWords(report: Rehearsed, rule: Rule, names: WordsFor): Rehearsed {
  const grown = steps(rule, names);
  const phrases = describeRule(rule, names);
  const why = (path: Path): string => {
    const found = phrases.find((phrase) => phrase.path && isWithin(phrase.path, path));
    return found ? `would show but for “${found.text}”` : 'would show but for one condition';
  };
  return {
    ...report,
    steps: report.steps.map((step, nth) => ({ ...step, what: grown[nth]?.what ?? step.what })),
    nearMisses: report.nearMisses.map((spot) => (spot.path ? { ...spot, why: why(spot.path) } : spot)),
  };
}

/** Does the variant's path take this phrase away? It may name the whole list. */
const isWithin = (phrase: Path, variant: Path): boolean => variant.every((part, index) => phrase[index] === part);
