import type { Metadata } from 'next';
import { picturesIn } from '@/core/messages/pictures';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { poolOf } from '@/server/db/sharedPool';
import { PictureLibrary } from '@/studio/pictures/PictureLibrary';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Pictures' };

export default async function PicturesPage() {
  const { site } = await requireSite();
  const campaigns = await listCampaigns(poolOf(site.id), site.id);
  const uses: Record<string, string[]> = {};
  for (const { name, flow } of campaigns) for (const hash of picturesIn(flow)) (uses[hash] ??= []).push(name);
  for (const hash of picturesIn(site.brand)) (uses[hash] ??= []).push('the brand');
  return (
    <div className="p-6">
      <SetupHead />
      <Editing>
        <PictureLibrary uses={uses} />
      </Editing>
    </div>
  );
}
