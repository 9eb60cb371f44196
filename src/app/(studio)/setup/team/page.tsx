import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { listTeam } from '@/server/db/team';
import { poolOf } from '@/server/db/sharedPool';
import { SetupHead } from '@/studio/setup/SetupHead';
import { TeamBrowsers } from '@/studio/setup/TeamBrowsers';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Our browsers' };

export default async function TeamPage() {
  const { site } = await requireSite();
  const list = await listTeam(poolOf(site.id), site.id);
  return (
    <div className="p-6">
      <SetupHead />
      <Editing>
        <TeamBrowsers list={list.map(({ lastAt, ...one }) => ({ ...one, at: lastAt.getTime() }))} />
      </Editing>
    </div>
  );
}
