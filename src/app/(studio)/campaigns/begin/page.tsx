import type { Metadata } from 'next';
import type { StartingPoint } from '@/core/startingPoints/points';
import { STARTING_POINTS } from '@/core/startingPoints/points';
import { describeRule } from '@/core/rules/describe';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { loadNames } from '@/server/db/recorded';
import { listSitesOf } from '@/server/db/members';
import { listStartingPoints } from '@/server/db/startingPoints';
import { pool, poolOf, readingOf } from '@/server/db/sharedPool';
import type { PointToBegin } from '@/studio/campaigns/BeginFrom';
import { BeginFrom } from '@/studio/campaigns/BeginFrom';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';

export const metadata: Metadata = { title: 'Begin a campaign' };

/** Of somebody's other sites. */
const MOST_SITES = 20;

export default async function BeginPage() {
  const { site, member } = await requireSite();
  const [campaigns, names, own] = await Promise.all([
    listCampaigns(poolOf(site.id), site.id),
    (await readingOf(site.id)).read((db) => loadNames(db, site.id)),
    listStartingPoints(poolOf(site.id), site.id),
  ]);
  const inWords = (points: readonly StartingPoint[], by = names): PointToBegin[] =>
    points.map((point) => ({ ...point, sentence: describeRule(point.document.rule, by) }));
  // What is kept at somebody's other sites is theirs to begin from as well.
  const others = (await listSitesOf(pool(), member.id)).filter(({ id }) => id !== site.id).slice(0, MOST_SITES);
  const elsewhere = await Promise.all(
    others.map(async ({ id, name }) => {
      const kept = await listStartingPoints(poolOf(id), id);
      return { site: id, name, points: kept.length === 0 ? [] : inWords(kept, await loadNames(poolOf(id), id)) };
    }),
  );
  return (
    <div className="p-6">
      <ScreenHead title="Begin from …" note="Each with how often its rule would have shown here in the last 30 days" />
      <BeginFrom
        taken={campaigns.map(({ name }) => name)}
        own={inWords(own)}
        elsewhere={elsewhere.filter(({ points }) => points.length > 0)}
        points={inWords(STARTING_POINTS)}
      />
    </div>
  );
}
