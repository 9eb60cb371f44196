import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { poolOf } from '@/server/db/sharedPool';
import { listTrash } from '@/server/db/trash';
import { DeletedList } from '@/studio/setup/DeletedList';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Deleted' };

export default async function DeletedPage() {
  const { site } = await requireSite();
  const deleted = await listTrash(poolOf(site.id), site.id);
  return (
    <div className="p-6">
      <SetupHead note="Kept for thirty days, and brought back as it was" />
      <Editing>
        <DeletedList deleted={deleted.map(({ at, goesAt, ...one }) => ({ ...one, at: at.getTime(), goesAt: goesAt.getTime() }))} />
      </Editing>
    </div>
  );
}
