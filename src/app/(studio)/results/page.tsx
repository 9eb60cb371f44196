import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { readingOf } from '@/server/db/sharedPool';
import { requestTime } from '@/server/http/clock';
import { annoyance, campaignsMet } from '@/server/results/all';
import { AllResults } from '@/studio/results/AllResults';

export const metadata: Metadata = { title: 'Results' };

const DAY_MS = 86_400_000;
const PERIODS = [7, 30, 90] as const;

/** `?days=7|30|90`. */
export default async function ResultsPage({ searchParams }: { searchParams: Promise<{ days?: string }> }) {
  const { site } = await requireSite();
  const asked = Number((await searchParams).days);
  const days = PERIODS.find((one) => one === asked) ?? 30;
  const since = requestTime() - days * DAY_MS;
  const db = await (await readingOf(site.id)).caughtUp();
  const [met, together, campaigns] = [
    await campaignsMet(db, site.id, since),
    await annoyance(db, site.id, since),
    await listCampaigns(db, site.id),
  ];
  const goals = Object.fromEntries(campaigns.map(({ id, goal }) => [id, goal]));
  return (
    <AllResults
      days={days}
      since={since}
      together={together}
      campaigns={met.flatMap((campaign) => {
        const goal = goals[campaign.id];
        return goal ? [{ ...campaign, goal }] : [];
      })}
    />
  );
}
