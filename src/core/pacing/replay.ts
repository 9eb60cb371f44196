import type { Outcome } from '../history/visitor';
import { takeSignal, advanceTo, engagedAt, openTimeline } from '../moments/timeline';
import type { Before, Signal } from '../moments/signal';
import type { Candidate } from './decider';
import { createDecider } from './decider';
import type { Budget, PacingRecord } from './pacing';
import { noteOutcome } from './pacing';

/** How a message goes away by itself in a replay. */
export interface Closes {
  readonly after: number;
  readonly as: Outcome | 'none';
}

export interface ReplayedView {
  /** UTC ms of the opening. */
  readonly at: number;
  readonly signals: readonly Signal[];
  /** The last instant, inclusive, in ms since the opening. */
  readonly leave: number;
  readonly before: Before;
}

export interface Showing {
  readonly campaign: string;
  /** UTC ms. */
  readonly at: number;
}

/** Plays one recorded page view through the decider: its showings in order. Pacing is read from and written to `record`. */
export function replayView(
  view: ReplayedView,
  {
    candidates,
    record,
    budget,
    closes = {},
    unknownShows,
  }: {
    candidates: readonly Candidate[];
    record: PacingRecord;
    budget?: Budget | undefined;
    closes?: Readonly<Record<string, Closes | undefined>>;
    unknownShows?: boolean | undefined;
  },
): Showing[] {
  const line = openTimeline(view.before);
  const decider = createDecider({ candidates, line, openedAt: view.at, record, budget, unknownShows });
  const showings: Showing[] = [];
  const closings: { t: number; campaign: string; as: Closes['as'] }[] = [];

  const note = (started: readonly string[], t: number): void => {
    for (const campaign of started) {
      showings.push({ campaign, at: view.at + t });
      const close = closes[campaign];
      if (close) closings.push({ t: t + close.after, campaign, as: close.as });
      closings.sort((a, b) => a.t - b.t);
    }
  };
  const closeUpTo = (t: number): boolean => {
    let any = false;
    while (closings[0] && closings[0].t <= t) {
      const { campaign, as } = closings.shift() as (typeof closings)[0];
      decider.free(campaign);
      if (as !== 'none') noteOutcome(record, campaign, as);
      any = true;
    }
    return any;
  };
  const runClocksUntil = (end: number, isInclusive: boolean): void => {
    for (;;) {
      const next = Math.min(decider.wakesAt(), closings[0]?.t ?? Infinity);
      if (isInclusive ? next > end : next >= end) return;
      closeUpTo(next);
      note(decider.wake(next), next);
    }
  };

  const first = view.signals[0]?.t ?? Infinity;
  if (first > 0) note(decider.wake(0), 0);
  for (const signal of view.signals) {
    if (signal.t > view.leave) break;
    runClocksUntil(signal.t, false);
    closeUpTo(signal.t);
    note(decider.signal(signal), line.t);
  }
  runClocksUntil(view.leave, true);
  closeUpTo(view.leave);
  return showings;
}

/** What a page view adds to the visit's clocks. */
export function measureView(view: ReplayedView): { engagedMs: number; clicks: number; depth: number } {
  const line = openTimeline(view.before);
  for (const signal of view.signals) if (signal.t <= view.leave) takeSignal(line, signal);
  advanceTo(line, Math.max(view.leave, line.t));
  return { engagedMs: engagedAt(line, line.t), clicks: line.clicks, depth: line.depth };
}
