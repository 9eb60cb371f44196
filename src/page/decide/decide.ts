import type { Timeline } from '@/core/moments/timeline';
import type { Decider } from '@/core/pacing/decider';
import { createDecider } from '@/core/pacing/decider';
import type { PacingRecord } from '@/core/pacing/pacing';
import type { Page } from '@/core/pages/address';
import { pagesHold } from '@/core/pages/pages';
import { peopleHoldInPage, peopleWakeAt } from '@/core/people/inPage';
import type { Release, ReleasedCampaign } from '@/core/release/release';
import type { Truth } from '@/core/rules/truth';
import { and } from '@/core/rules/truth';
import { readBrowser } from './browser';

export type DecideFor = (given: {
  release: Release;
  line: Timeline;
  openedAt: number;
  record: PacingRecord;
  page: () => Page;
  facts: () => readonly Truth[];
}) => Decider;

/** The part of the page script that decides: loaded only where a release has campaigns. */
export const decideFor: DecideFor = ({ release, line, openedAt, record, page, facts }) => {
  const fits = ({ pages, people }: ReleasedCampaign, now: number): Truth =>
    and([pagesHold(pages, page(), {}), peopleHoldInPage(people, { facts: facts(), browser: readBrowser(), now })]);
  const candidates = release.campaigns.map((campaign) => ({
    id: campaign.id,
    place: campaign.place,
    moment: campaign.moment,
    pacing: campaign.pacing,
    fits: (now: number) => fits(campaign, now),
    fitsWakesAt: (now: number) => peopleWakeAt(campaign.people, now),
  }));
  return createDecider({ candidates, line, openedAt, record, budget: release.budget });
};
