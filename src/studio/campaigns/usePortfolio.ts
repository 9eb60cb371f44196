import { useEffect, useState } from 'react';
import type { Budget } from '@/core/pacing/pacing';
import type { PortfolioReport } from '@/core/rehearsal/portfolio';
import type { Given } from '../parts/net/call';
import { callInLines } from '../parts/net/call';
import { RefusedLine } from '../parts/net/readLines';

interface State {
  readonly report: PortfolioReport | undefined;
  readonly isRunning: boolean;
  readonly error: string | undefined;
}

/** Rehearses all live campaigns together over thirty days, anew whenever their order or the budget changes. */
export function usePortfolio(campaigns: readonly string[], budget: Budget): State {
  const [state, setState] = useState<State>({ report: undefined, isRunning: true, error: undefined });
  const body = JSON.stringify({ campaigns, budget, days: 30 });
  useEffect(() => {
    const abort = new AbortController();
    const say = (more: Partial<State>): void => {
      if (!abort.signal.aborted) setState((before) => ({ ...before, ...more }));
    };
    void Promise.resolve()
      .then(() => say({ isRunning: true }))
      .then(() =>
        callInLines('POST /api/campaigns/order/rehearse', {
          body: JSON.parse(body) as Given<'POST /api/campaigns/order/rehearse'>['body'],
          signal: abort.signal,
          onLine: (report) => say({ report, error: undefined }),
        }),
      )
      .catch((cause: unknown) => {
        if (abort.signal.aborted) return;
        console.debug('rehearsal failed', cause);
        say({ error: cause instanceof RefusedLine ? cause.message : 'The studio cannot be reached; the order is safe.' });
      })
      .finally(() => say({ isRunning: false }));
    return () => abort.abort();
  }, [body]);
  return state;
}
