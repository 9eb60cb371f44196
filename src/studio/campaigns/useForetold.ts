import { useEffect, useMemo, useState } from 'react';
import type { Placement } from '@/core/pacing/placement';
import type { Rule } from '@/core/rules/schema';
import { callInLines } from '../parts/net/call';
import { RefusedLine } from '../parts/net/readLines';

export type Foretold =
  | {
      readonly sure: number;
      readonly possible: number;
      /** Visits in which it would show. */
      readonly visits: number;
      readonly isSample: boolean;
    }
  | { readonly error: string };

export interface ToForetell {
  readonly id: string;
  readonly rule: Rule;
  readonly place: Placement;
}

export const FORETOLD_DAYS = 30;

/** How often each rule would have shown on this site in the last 30 days, asked one after the other; asked anew where one has changed. */
export function useForetold(rules: readonly ToForetell[]): ReadonlyMap<string, Foretold> {
  const [answers, setAnswers] = useState<ReadonlyMap<string, Foretold>>(new Map());
  const asked = JSON.stringify(rules);
  useEffect(() => {
    const over = new AbortController();
    const say = (key: string, answer: Foretold): void => {
      if (!over.signal.aborted) setAnswers((before) => new Map(before).set(key, answer));
    };
    void (async () => {
      for (const { rule, place } of JSON.parse(asked) as readonly ToForetell[]) {
        const key = keyOf(rule, place);
        try {
          await callInLines('POST /api/rehearse', {
            body: { campaign: 'foretold', place, rule, days: FORETOLD_DAYS, withOthers: false },
            signal: over.signal,
            onLine: ({ sure, possible, steps, isSample = false }) =>
              say(key, { sure, possible, visits: steps.at(-1)?.left ?? 0, isSample }),
          });
        } catch (cause) {
          if (over.signal.aborted) return;
          say(key, { error: cause instanceof RefusedLine ? cause.message : 'The studio cannot be reached' });
        }
      }
    })();
    return () => over.abort();
  }, [asked]);
  // What a rule was found to come to stays true for it, whoever asks next.
  return useMemo(() => {
    const of = (JSON.parse(asked) as readonly ToForetell[]).flatMap(({ id, rule, place }) => {
      const answer = answers.get(keyOf(rule, place));
      return answer ? [[id, answer] as const] : [];
    });
    return new Map(of);
  }, [asked, answers]);
}

const keyOf = (rule: Rule, place: Placement): string => JSON.stringify([rule, place]);
