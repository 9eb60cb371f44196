import type { PacingRecord } from '@/core/pacing/pacing';
import { emptyPacing } from '@/core/pacing/pacing';
import { VISIT_GAP_MS } from '@/core/history/visitor';
import type { Store } from './store';
import { isUuid, uuid7 } from './uuid';

/** The visit under way. Instants are the browser's UTC ms. */
export interface VisitState {
  id: string;
  startedAt: number;
  lastAt: number;
  engagedMs: number;
  clicks: number;
}

export interface State {
  browser: string;
  visit: VisitState;
  pacing: PacingRecord;
}

/** What this browser remembers; a visit older than 30 minutes without activity is over and a new one begins. */
export function openState(store: Store, now: number): State {
  const kept = store.read<State>('state');
  // Whatever else may stand there, by another's hand or by an older fault of ours, is thrown away: better a new browser than none.
  const saved = isUuid(kept?.browser) && isUuid(kept?.visit?.id) && kept?.pacing?.visit?.campaigns instanceof Array ? kept : undefined;
  const state: State = saved ?? { browser: uuid7(now), visit: newVisit(now), pacing: emptyPacing(now) };
  if (saved) continueOrBeginVisit(state, now);
  store.write('state', state);
  return state;
}

export function continueOrBeginVisit(state: State, now: number): void {
  // A clock that was set back must not keep a visit open for ever.
  if (now - state.visit.lastAt > VISIT_GAP_MS || now < state.visit.startedAt - VISIT_GAP_MS) {
    state.visit = newVisit(now);
    state.pacing.visit = emptyPacing(now).visit;
  }
  state.visit.lastAt = now;
}

function newVisit(now: number): VisitState {
  return { id: uuid7(now), startedAt: now, lastAt: now, engagedMs: 0, clicks: 0 };
}
