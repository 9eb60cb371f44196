import type { Metadata } from 'next';
import type { StartingPoint } from '@/core/startingPoints/points';
import { STARTING_POINTS } from '@/core/startingPoints/points';
import { describeRule } from '@/core/rules/describe';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { loadNames } from '@/server/db/recorded';
import { listStartingPoints } from '@/server/db/startingPoints';
import { poolOf, readingOf } from '@/server/db/sharedPool';
import type { PointToBegin } from '@/studio/campaigns/BeginFrom';
import { BeginFrom } from '@/studio/campaigns/BeginFrom';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';

export const metadata: Metadata = { title: 'Begin a campaign' };

export default async function BeginPage() {
  const { site } = await requireSite();
  const [campaigns, names, own] = await Promise.all([
    listCampaigns(poolOf(site.id), site.id),
    (await readingOf(site.id)).read((db) => loadNames(db, site.id)),
    listStartingPoints(poolOf(site.id), site.id),
  ]);
  const inWords = (points: readonly StartingPoint[]): PointToBegin[] =>
    points.map((point) => ({ ...point, sentence: describeRule(point.document.rule, names) }));
  return (
    <div className="p-6">
      <ScreenHead title="Begin from …" note="Each with how often its rule would have shown here in the last 30 days" />
      <BeginFrom taken={campaigns.map(({ name }) => name)} own={inWords(own)} points={inWords(STARTING_POINTS)} />
    </div>
  );
}
