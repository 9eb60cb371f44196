import type { PacingRecord } from '@/core/pacing/pacing';
import { emptyPacing, recordOf } from '@/core/pacing/pacing';
import { VISIT_GAP_MS } from '@/core/history/visitor';
import type { DecisionContext } from '@/core/wire/items';
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
  const saved = isUuid(kept?.browser) && isUuid(kept?.visit?.id) && kept?.pacing?.visit?.campaigns ? kept : undefined;
  const state: State = saved ?? { browser: uuid7(now), visit: newVisit(now), pacing: emptyPacing(now) };
  if (saved) continueOrBeginVisit(state, now);
  store.write('state', state);
  return state;
}

export function continueOrBeginVisit(state: State, now: number): void {
  // A clock that was set back must not keep a visit open for ever.
  if (now - state.visit.lastAt > VISIT_GAP_MS || now < state.visit.startedAt - VISIT_GAP_MS) {
    state.visit = newVisit(now);
    state.pacing.visit = { startedAt: now, showings: 0, campaigns: [] };
  }
  state.visit.lastAt = now;
}

function newVisit(now: number): VisitState {
  return { id: uuid7(now), startedAt: now, lastAt: now, engagedMs: 0, clicks: 0 };
}

/** What the server remembers counts too: this browser's storage may have been cleared. The higher number wins. */
export function mergePacing(record: PacingRecord, recorded: DecisionContext['pacing']): void {
  for (const [campaign, theirs] of Object.entries(recorded.campaigns)) {
    const ours = recordOf(record, campaign);
    ours.shown = Math.max(ours.shown, theirs.shown);
    ours.dismissed = Math.max(ours.dismissed, theirs.dismissed);
    ours.converted = Math.max(ours.converted, theirs.converted);
    ours.lastAt = latest(ours.lastAt, theirs.lastAt);
  }
  record.lastAt = latest(record.lastAt, recorded.lastAt);
}

function latest(a: number | undefined, b: number | undefined): number | undefined {
  return a === undefined ? b : Math.max(a, b ?? a);
}
