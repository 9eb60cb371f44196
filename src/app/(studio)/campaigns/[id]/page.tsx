import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { findCampaign } from '@/server/db/campaigns';
import { listPurposes } from '@/server/db/purposes';
import { findCurrentRelease } from '@/server/db/releases';
import { loadRecorded } from '@/server/db/recorded';
import { poolOf } from '@/server/db/sharedPool';
import { CampaignEditor } from '@/studio/campaigns/CampaignEditor';
import { RecordedProvider } from '@/studio/rule/recorded';

export const metadata: Metadata = { title: 'Campaign' };

/** `?tab=results` opens what came of it. */
export default async function CampaignPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ tab?: string }>;
}) {
  const { site } = await requireSite();
  const { id } = await params;
  const campaign = await findCampaign(poolOf(site.id), site.id, id);
  if (!campaign) notFound();
  const [recorded, release, purposes] = await Promise.all([
    loadRecorded(poolOf(site.id), site.id),
    findCurrentRelease(poolOf(site.id), site.id),
    listPurposes(poolOf(site.id), site.id),
  ]);
  const { name, goal, rule, flow, holdout, variants, status, revision, purpose, startsAt, endsAt } = campaign;
  return (
    <RecordedProvider value={recorded}>
      <CampaignEditor
        // Who joins a purpose has other people, pages and success from then on.
        key={`${id} ${purpose}`}
        id={id}
        tab={(await searchParams).tab === 'results' ? 'results' : undefined}
        purpose={purpose ?? undefined}
        purposes={purposes}
        initial={{ name, goal, rule, flow, ...(holdout ? { holdout } : {}), ...(variants ? { variants } : {}) }}
        schedule={{ startsAt: startsAt?.getTime(), endsAt: endsAt?.getTime() }}
        status={status}
        revision={revision}
        releasedIn={release?.document.campaigns.some((one) => one.id === id) ? release.number : undefined}
      />
    </RecordedProvider>
  );
}
