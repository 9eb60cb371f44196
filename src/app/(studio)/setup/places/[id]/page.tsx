import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { places } from '@/server/db/vocabulary';
import { poolOf } from '@/server/db/sharedPool';
import { usersOf } from '@/server/segments/users';
import { PlaceEditor } from '@/studio/places/PlaceEditor';
import { SetupHead } from '@/studio/setup/SetupHead';
import { Editing } from '@/studio/parts/layout/Editing';

export const metadata: Metadata = { title: 'Place' };

export default async function PlacePage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const { id } = await params;
  const [place, users] = await Promise.all([places.find(poolOf(site.id), site.id, id), usersOf(poolOf(site.id), site.id, 'places', id)]);
  if (!place) notFound();
  const { name, shape, revision } = place;
  return (
    <div className="p-6">
      <SetupHead />
      <Editing>
        <PlaceEditor key={`${id} ${revision}`} id={id} initial={{ name, shape }} revision={revision} users={users} />
      </Editing>
    </div>
  );
}
