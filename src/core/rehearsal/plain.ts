// The rule tree interpreted in the plainest way: every signal of every view of every visitor, with nothing compiled and
// nothing passed over. Slow, and so only what the rehearsal is held against.
import type { Places } from '../geo/place';
import { withProfile } from '../history/record';
import { LONGEST_LOOKBACK_DAYS } from '../history/visitor';
import type { Budget } from '../pacing/pacing';
import { emptyPacing } from '../pacing/pacing';
import { measureView, replayView } from '../pacing/replay';
import { pagesHold } from '../pages/pages';
import type { PageSets } from '../pages/pattern';
import { peopleHold } from '../people/condition';
import type { SegmentBody } from '../people/subject';
import { and } from '../logic/truth';
import { compileWakes } from './wakes';
import type { RecordedVisitor } from './recorded';
import type { CampaignToRehearse } from './rehearse';

export interface PlainShowing {
  readonly visitor: number;
  readonly visit: string;
  readonly view: string;
  readonly campaign: string;
  readonly at: number;
}

export function rehearsePlainly(
  visitors: readonly RecordedVisitor[],
  {
    campaigns,
    budget,
    sets,
    segments,
    places = {},
    unknownShows = false,
  }: {
    campaigns: readonly CampaignToRehearse[];
    budget?: Budget | undefined;
    sets: PageSets;
    segments: Readonly<Record<string, SegmentBody>>;
    places?: Places;
    unknownShows?: boolean;
  },
): PlainShowing[] {
  const showings: PlainShowing[] = [];
  for (const { id, record, timelines, visitIds, viewIds } of visitors) {
    const pacing = emptyPacing(0);
    record.visits.forEach((visit, nthVisit) => {
      const played = timelines[nthVisit];
      const first = visit.views[0];
      if (!played || !first) return;
      pacing.visit = { startedAt: first.at, showings: 0, campaigns: [] };
      let [visitEngaged, visitClicks] = [0, 0];
      visit.views.forEach((view, nthView) => {
        const timeline = played[nthView];
        if (!timeline) return;
        const visits = record.visits
          .slice(0, nthVisit + 1)
          .map((one, index) => (index === nthVisit ? { ...one, views: one.views.slice(0, nthView + 1) } : one));
        const candidates = campaigns.map(({ id: campaign, place, rule }) => ({
          id: campaign,
          place,
          moment: rule.moment,
          pacing: rule.pacing ?? {},
          fits: (now: number) =>
            and([
              pagesHold(rule.pages, { url: view.url, title: view.title, labels: view.labels }, sets),
              peopleHold(rule.people, {
                visitor: withProfile(record, visits, now),
                now,
                lookback: LONGEST_LOOKBACK_DAYS,
                sets,
                segments,
                places,
              }),
            ]),
          fitsWakesAt: (now: number) => compileWakes(rule.people)?.(now, record) ?? Infinity,
        }));
        const before = {
          hidden: timeline.hidden,
          cannotScroll: timeline.cannotScroll,
          watched: timeline.watched,
          visitElapsed: view.at - first.at,
          visitEngaged,
          visitClicks,
        };
        const replayed = { at: view.at, signals: timeline.signals, leave: timeline.leave, before };
        for (const { campaign, at } of replayView(replayed, { candidates, record: pacing, budget, unknownShows })) {
          showings.push({ visitor: id, visit: visitIds[nthVisit] ?? '', view: viewIds[nthVisit]?.[nthView] ?? '', campaign, at });
        }
        const measured = measureView(replayed);
        visitEngaged += measured.engagedMs;
        visitClicks += measured.clicks;
      });
    });
  }
  return showings;
}
