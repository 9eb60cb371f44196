import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { loadRecorded } from '@/server/db/recorded';
import { pageSets } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { usersOf } from '@/server/segments/users';
import { PageSetEditor } from '@/studio/pageSets/PageSetEditor';
import { RecordedProvider } from '@/studio/rule/recorded';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Page set' };

export default async function PageSetPage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const { id } = await params;
  const [set, recorded, users] = await Promise.all([
    pageSets.find(poolOf(site.id), site.id, id),
    loadRecorded(poolOf(site.id), site.id),
    usersOf(poolOf(site.id), site.id, 'sets', id),
  ]);
  if (!set) notFound();
  const { name, patterns, revision } = set;
  return (
    <div className="p-6">
      <SetupHead />
      <RecordedProvider value={recorded}>
        <Editing>
          <PageSetEditor key={`${id} ${revision}`} id={id} initial={{ name, patterns: [...patterns] }} revision={revision} users={users} />
        </Editing>
      </RecordedProvider>
    </div>
  );
}
