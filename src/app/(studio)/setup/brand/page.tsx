import type { Metadata } from 'next';
import { siteValuesIn } from '@/core/brand/siteValues';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { BrandEditor } from '@/studio/brand/BrandEditor';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Brand' };

export default async function BrandPage() {
  const { site } = await requireSite();
  const campaigns = await listCampaigns(poolOf(site.id), site.id);
  const uses: Record<string, string[]> = {};
  for (const { name, flow } of campaigns) for (const key of siteValuesIn(flow)) (uses[key] ??= []).push(name);
  return (
    <div className="p-6">
      <SetupHead />
      <Editing>
        <BrandEditor initial={site.brand} uses={uses} />
      </Editing>
    </div>
  );
}
