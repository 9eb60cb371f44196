import type { ReleasedCampaign } from '@/core/release/release';
import type { PacingRecord } from '@/core/pacing/pacing';
import { emptyPacing, noteOutcome } from '@/core/pacing/pacing';
import type { Candidate } from '@/core/pacing/decider';
import { replayView } from '@/core/pacing/replay';
import { pagesHold } from '@/core/pages/pages';
import type { Dice } from '../dice';
import type { SimulatedVisit } from './simulate';

export interface SimulatedShowing {
  readonly id: string;
  readonly campaign: string;
  readonly visit: SimulatedVisit;
  readonly viewId: string;
  readonly url: string;
  readonly at: number;
  readonly outcome?: { readonly kind: 'converted' | 'dismissed'; readonly at: number; readonly email?: string };
}

/** What each campaign would have done in the simulated visits, decided by the page script's own code, and how people answered it. */
export function respond(
  visits: readonly SimulatedVisit[],
  campaigns: readonly { campaign: ReleasedCampaign; fits: (visit: SimulatedVisit) => boolean; converts: number }[],
  dice: Dice,
): SimulatedShowing[] {
  const showings: SimulatedShowing[] = [];
  const records = new Map<string, PacingRecord>();
  for (const visit of visits) {
    const record = records.get(visit.person.browserId) ?? emptyPacing(visit.at);
    records.set(visit.person.browserId, record);
    record.visit = { startedAt: visit.at, showings: 0, campaigns: [] };
    for (const view of visit.views) {
      const candidates = campaigns.map(({ campaign, fits }): Candidate => {
        const holds = fits(visit) && pagesHold(campaign.pages, view, {}) === true;
        return { id: campaign.id, place: campaign.place, moment: campaign.moment, pacing: campaign.pacing, fits: () => holds };
      });
      const before = { visitElapsed: view.at - visit.at };
      for (const { campaign, at } of replayView(
        { at: view.at, signals: view.signals, leave: view.leaveMs, before },
        { candidates, record },
      )) {
        const converts = campaigns.find((one) => one.campaign.id === campaign)?.converts ?? 0;
        showings.push(answer({ id: dice.uuid(at), campaign, visit, viewId: view.id, url: view.url, at }, { dice, converts, record }));
      }
    }
  }
  return showings;
}

function answer(
  showing: SimulatedShowing,
  { dice, converts, record }: { dice: Dice; converts: number; record: PacingRecord },
): SimulatedShowing {
  const at = showing.at + dice.whole(1500, 9000);
  const view = showing.visit.views.find(({ id }) => id === showing.viewId);
  if (!view || at > view.at + view.leaveMs) return showing;
  const kind = dice.chance(converts) ? 'converted' : 'dismissed';
  noteOutcome(record, showing.campaign, kind);
  return { ...showing, outcome: { kind, at, ...(kind === 'converted' ? { email: `walker${dice.whole(1000, 9999)}@post.example` } : {}) } };
}
