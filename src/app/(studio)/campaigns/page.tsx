import type { Metadata } from 'next';
import Link from 'next/link';
import { describeRule } from '@/core/rules/describe';
import { requireSite } from '@/server/auth/current';
import { countShowings, listCampaigns } from '@/server/db/campaigns';
import { findCurrentRelease } from '@/server/db/releases';
import { loadNames } from '@/server/db/recorded';
import { pool } from '@/server/pool';
import { BudgetForm } from '@/studio/campaigns/BudgetForm';
import { MoveButtons } from '@/studio/campaigns/MoveButtons';
import { NewCampaignButton } from '@/studio/campaigns/NewCampaignButton';
import { Empty } from '@/studio/parts/Empty';
import { ScreenHead } from '@/studio/parts/ScreenHead';
import { Sentence } from '@/studio/parts/Sentence';

export const metadata: Metadata = { title: 'Campaigns' };

export default async function CampaignsPage() {
  const { site } = await requireSite();
  const [campaigns, names, counts, release] = await Promise.all([
    listCampaigns(pool(), site.id),
    loadNames(pool(), site.id),
    countShowings(pool(), site.id, 30),
    findCurrentRelease(pool(), site.id),
  ]);
  const isOut = (id: string): boolean => release?.document.campaigns.some((campaign) => campaign.id === id) ?? false;
  return (
    <div className="p-6">
      <ScreenHead title="Campaigns" note="In the order in which they decide; counts of the last 30 days">
        <NewCampaignButton names={campaigns.map(({ name }) => name)} />
      </ScreenHead>
      {campaigns.length === 0 ? (
        <Empty title="No campaigns yet" action={<NewCampaignButton names={[]} />}>
          A campaign has one purpose. Its rule reads like this:{' '}
          <em>Show it to people who viewed /huts/* at least 2 times, on /huts/**, when they move to leave, not again for 7 days.</em>
        </Empty>
      ) : (
        <div className="sheet">
          <table className="list">
            <thead>
              <tr>
                <th>Campaign</th>
                <th>State</th>
                <th className="number">Triggered</th>
                <th className="number">Shown</th>
                <th className="number">Converted</th>
              </tr>
            </thead>
            <tbody>
              {campaigns.map(({ id, name, status, rule }) => {
                const count = counts.find(({ campaign }) => campaign === id);
                return (
                  <tr key={id} className="hover:bg-bone">
                    <td className="max-w-3xl">
                      <div className="flex">
                        <MoveButtons id={id} name={name} order={campaigns.map((one) => one.id)} />
                        <span>
                          <Link data-row className="text-base font-semibold hover:underline" href={`/campaigns/${id}`}>
                            {name}
                          </Link>
                          <Sentence size="small" phrases={describeRule(rule, names)} />
                        </span>
                      </div>
                    </td>
                    <td className="whitespace-nowrap">{stateWords(status, isOut(id))}</td>
                    <td className="number">{(count?.triggered ?? 0).toLocaleString('en-GB')}</td>
                    <td className="number">{(count?.shown ?? 0).toLocaleString('en-GB')}</td>
                    <td className="number">
                      <b>{(count?.converted ?? 0).toLocaleString('en-GB')}</b>
                      {count && count.shown > 0 && (
                        <span className="block text-xs text-soft">{((100 * count.converted) / count.shown).toFixed(1)} %</span>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </div>
      )}
      {campaigns.length > 0 && <BudgetForm initial={site.budget} />}
    </div>
  );
}

function stateWords(status: string, isOut: boolean): string {
  if (status === 'live') return isOut ? 'live' : 'live with next release';
  return isOut ? 'ends with next release' : status;
}
