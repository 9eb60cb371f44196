import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { places } from '@/server/db/vocabulary';
import { countIn, listSpots } from '@/server/map/visitors';
import { poolOf } from '@/server/db/sharedPool';
import { PlaceList } from '@/studio/places/PlaceList';

export const metadata: Metadata = { title: 'Places' };

export default async function PlacesPage() {
  const { site } = await requireSite();
  const [list, spots] = await Promise.all([places.list(poolOf(site.id), site.id), listSpots(poolOf(site.id), site.id)]);
  return (
    <PlaceList
      places={list.map(({ id, name, shape, updatedAt }) => ({ id, name, shape, changedAt: updatedAt.getTime(), ...countIn(shape, spots) }))}
    />
  );
}
