import type { Places } from '../geo/place';
import { withProfile } from '../history/record';
import type { Outcome } from '../history/visitor';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import { advanceTo, openTimeline, takeSignal } from '../moments/timeline';
import type { Budget, PacingRecord } from '../pacing/pacing';
import { emptyPacing, noteOutcome, noteShowing } from '../pacing/pacing';
import { measureView } from '../pacing/replay';
import type { PageSets } from '../pages/pattern';
import type { SegmentBody } from '../people/subject';
import type { Explanation } from '../rules/explain';
import { explainRule } from '../rules/explain';
import type { Rule } from '../rules/schema';
import type { WordsFor } from '../pages/names';
import type { RecordedVisitor } from './recorded';

export interface Instant {
  /** Indices of the record's visit and of the view in it. */
  readonly visit: number;
  readonly view: number;
  /** ms since the page opened. */
  readonly t: number;
}

/** A showing on record, seen or held out: both count for pacing. */
export interface PastShowing {
  readonly campaign: string;
  /** UTC ms. */
  readonly at: number;
  readonly outcomes: readonly { readonly outcome: Outcome; readonly at: number }[];
}

/** Why each rule shows, or does not, for a recorded visitor at an instant of a page view: with what was on record then. Undefined where that view was not recorded. */
export function reasonsAt(
  { record, timelines }: RecordedVisitor,
  { visit, view, t }: Instant,
  {
    rules,
    showings,
    sets,
    segments,
    places,
    budget,
    names,
  }: {
    rules: readonly { readonly campaign: string; readonly rule: Rule }[];
    showings: readonly PastShowing[];
    sets: PageSets;
    segments: Readonly<Record<string, SegmentBody>>;
    places: Places;
    budget: Budget;
    names: WordsFor;
  },
): { campaign: string; explanation: Explanation }[] | undefined {
  const current = record.visits[visit];
  const page = current?.views[view];
  const played = timelines[visit];
  const timeline = played?.[view];
  if (!current || !page || !timeline) return undefined;
  const now = page.at + t;
  const visits = record.visits.slice(0, visit + 1);
  visits[visit] = { ...current, views: current.views.slice(0, view + 1), events: current.events.filter(({ at }) => at <= now) };

  const earlier = current.views.slice(0, view).map((one, index) => {
    const { signals, leave, hidden, cannotScroll } = played?.[index] ?? { signals: [], leave: 0 };
    return measureView({ at: one.at, signals, leave, before: { hidden, cannotScroll } });
  });
  const line = openTimeline({
    hidden: timeline.hidden,
    cannotScroll: timeline.cannotScroll,
    watched: timeline.watched,
    visitElapsed: page.at - (current.views[0]?.at ?? page.at),
    visitEngaged: earlier.reduce((sum, { engagedMs }) => sum + engagedMs, 0),
    visitClicks: earlier.reduce((sum, { clicks }) => sum + clicks, 0),
  });
  for (const signal of timeline.signals) if (signal.t <= t) takeSignal(line, signal);
  // A signal of this very instant stays in sight: a click or an exit holds only then.
  if (line.t < t) advanceTo(line, t);

  const subject = {
    visitor: withProfile(record, visits, now),
    now,
    lookback: LONGEST_LOOKBACK_DAYS,
    sets,
    segments,
    places,
  };
  const paced = pacingAt(showings, { now, visitAt: current.at });
  return rules.map(({ campaign, rule }) => ({
    campaign,
    explanation: explainRule(rule, {
      subject,
      page,
      line,
      openedAt: page.at,
      t: Math.max(t, line.t),
      campaign,
      record: paced,
      budget,
      names,
    }),
  }));
}

/** What pacing knew just before an instant: a showing of that very instant is what is being explained. */
function pacingAt(showings: readonly PastShowing[], { now, visitAt }: { now: number; visitAt: number }): PacingRecord {
  const record = emptyPacing(visitAt);
  const past = showings.filter(({ at }) => at < now).sort((a, b) => a.at - b.at);
  for (const { campaign, at } of past) {
    if (at < visitAt) {
      noteShowing(record, campaign, at);
      record.visit = emptyPacing(visitAt).visit;
    } else noteShowing(record, campaign, at);
  }
  for (const { campaign, outcomes } of past) for (const { outcome, at } of outcomes) if (at <= now) noteOutcome(record, campaign, outcome);
  return record;
}
