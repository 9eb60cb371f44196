import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { listSitesOf } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Sites } from '@/studio/setup/Sites';

export const metadata: Metadata = { title: 'Sites' };

export default async function SitesPage() {
  const { member, site } = await requireSite();
  return (
    <div className="p-6">
      <SetupHead />
      <Sites sites={await listSitesOf(pool(), member.id)} current={site.id} />
    </div>
  );
}
