import { useEffect, useState } from 'react';
import { startOf } from '@/core/flows/flow';
import { placeOf } from '@/core/messages/message';
import type { Rehearsed } from '@/core/rehearsal/rehearsed';
import type { StartingPoint } from '@/core/startingPoints/points';
import { readLines, RefusedLine } from '../parts/net/readLines';

export type Foretold = { readonly sure: number; readonly possible: number; readonly isSample: boolean } | { readonly error: string };

/** How often each rule would have shown on this site in the last 30 days, one after the other. `points` must stay the same object. */
export function useForetold(points: readonly StartingPoint[]): ReadonlyMap<string, Foretold> {
  const [foretold, setForetold] = useState<ReadonlyMap<string, Foretold>>(new Map());
  const [asked] = useState(points);
  useEffect(() => {
    const over = new AbortController();
    const say = (id: string, answer: Foretold): void => {
      if (!over.signal.aborted) setForetold((before) => new Map(before).set(id, answer));
    };
    void (async () => {
      for (const { id, document } of asked) {
        const question = {
          campaign: `begin-${id}`,
          place: placeOf(startOf(document.flow)),
          rule: document.rule,
          days: 30,
          withOthers: false,
        };
        try {
          await readLines<Pick<Rehearsed, 'sure' | 'possible'> & { isSample?: boolean }>('/api/rehearse', question, {
            signal: over.signal,
            onLine: ({ sure, possible, isSample = false }) => say(id, { sure, possible, isSample }),
          });
        } catch (cause) {
          if (over.signal.aborted) return;
          say(id, { error: cause instanceof RefusedLine ? cause.message : 'The studio cannot be reached' });
        }
      }
    })();
    return () => over.abort();
  }, [asked]);
  return foretold;
}
