import type { Metadata } from 'next';
import Link from 'next/link';
import { describeRule } from '@/core/rules/describe';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { countShowings } from '@/server/db/showings';
import { lastAnswer } from '@/server/db/lastAnswers';
import { listPurposes } from '@/server/db/purposes';
import { findCurrentRelease } from '@/server/db/releases';
import { loadNames } from '@/server/db/recorded';
import { may } from '@/server/auth/rights';
import { listSitesOf } from '@/server/db/members';
import { pool, poolOf, readingOf } from '@/server/db/sharedPool';
import { CampaignTable } from '@/studio/campaigns/CampaignTable';
import { NewCampaignButton } from '@/studio/campaigns/NewCampaignButton';
import { Empty } from '@/studio/parts/layout/Empty';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';

export const metadata: Metadata = { title: 'Campaigns' };

export default async function CampaignsPage() {
  const { site, member } = await requireSite();
  const [campaigns, names, counts, release, portfolio, purposes, sites] = await Promise.all([
    listCampaigns(poolOf(site.id), site.id),
    (await readingOf(site.id)).read((db) => loadNames(db, site.id)),
    countShowings(poolOf(site.id), site.id, 30),
    findCurrentRelease(poolOf(site.id), site.id),
    lastAnswer(poolOf(site.id), site.id, 'portfolio'),
    listPurposes(poolOf(site.id), site.id),
    listSitesOf(pool(), member.id),
  ]);
  const isOut = (id: string): boolean => release?.document.campaigns.some((campaign) => campaign.id === id) ?? false;
  return (
    <div className="p-6">
      <ScreenHead title="Campaigns" note="In the order in which they decide; counts of the last 30 days">
        <Link className="act-quiet" href="/campaigns/begin">
          Begin from …
        </Link>
        <NewCampaignButton names={campaigns.map(({ name }) => name)} />
      </ScreenHead>
      {campaigns.length === 0 ? (
        <Empty title="No campaigns yet" action={<NewCampaignButton names={[]} />}>
          A campaign has one purpose. Its rule reads like this:{' '}
          <em>
            Show it to people who viewed /pricing at least 2 times, on /pricing, when they move to leave, not again for 7 days, until a
            conversion.
          </em>
        </Empty>
      ) : (
        <CampaignTable
          budget={site.budget}
          last={portfolio}
          elsewhere={sites.filter(({ id, role }) => id !== site.id && may(role, 'edit')).map(({ id, name }) => ({ id, name }))}
          campaigns={campaigns.map(({ id, name, status, rule, purpose }) => {
            const count = counts.find(({ campaign }) => campaign === id);
            return {
              id,
              name,
              purpose: purposes.find((one) => one.id === purpose)?.name,
              state: stateWords(status, isOut(id)),
              isOn: status === 'live',
              sentence: describeRule(rule, names),
              shown: count?.shown ?? 0,
              converted: count?.converted ?? 0,
            };
          })}
        />
      )}
    </div>
  );
}

function stateWords(status: string, isOut: boolean): string {
  if (status === 'live') return isOut ? 'live' : 'live with next release';
  if (status === 'scheduled') return isOut ? 'waits for its start' : 'scheduled, once published';
  return isOut && status === 'draft' ? 'ends with next release' : status;
}
