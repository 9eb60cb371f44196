import { reasonsAt } from '@/core/rehearsal/reasons';
import type { Explanation } from '@/core/rules/explain';
import { listCampaigns } from '../db/campaigns';
import type { Queryable } from '../db/queryable';
import { loadNames } from '../db/recorded';
import { findSite } from '../db/sites';
import { loadVisitors, withTimelines } from '../db/visitors';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';
import { showingsOf } from '../db/showings';

export interface Why {
  readonly campaign: string;
  readonly name: string;
  readonly status: string;
  readonly explanation: Explanation;
  /** UTC ms of its showings in this page view, and whether the visitor saw them (the holdout does not). */
  readonly shown: readonly { readonly at: number; readonly isSeen: boolean }[];
}

/** For every campaign, by the rules as they are now: why it shows, or does not, at `t` ms of a page view. Undefined where that view is not on record. */
export async function whyAt(
  db: Queryable,
  siteId: number,
  { visitor, view, t }: { visitor: number; view: string; t: number },
): Promise<Why[] | undefined> {
  const [stored] = await loadVisitors(db, siteId, [visitor]);
  const visit = stored?.viewIds.findIndex((views) => views.includes(view)) ?? -1;
  if (!stored || visit < 0) return undefined;
  const [recorded] = await withTimelines(db, siteId, [stored], 0);
  const [campaigns, showings, sets, places, segments, site, names] = await Promise.all([
    listCampaigns(db, siteId),
    showingsOf(db, siteId, visitor),
    loadPageSets(db, siteId),
    loadPlaces(db, siteId),
    segmentBodies(db, siteId),
    findSite(db, siteId),
    loadNames(db, siteId),
  ]);
  const rules = campaigns.filter(({ status }) => status !== 'ended').map(({ id, rule }) => ({ campaign: id, rule }));
  const reasons =
    recorded &&
    reasonsAt(
      recorded,
      { visit, view: stored.viewIds[visit]?.indexOf(view) ?? -1, t },
      { rules, showings, sets, places, segments, budget: site?.budget ?? {}, names },
    );
  return reasons?.map(({ campaign, explanation }) => {
    const found = campaigns.find(({ id }) => id === campaign);
    return {
      campaign,
      name: found?.name ?? campaign,
      status: found?.status ?? 'draft',
      explanation,
      shown: showings.filter((one) => one.campaign === campaign && one.view === view).map(({ at, isSeen }) => ({ at, isSeen })),
    };
  });
}
