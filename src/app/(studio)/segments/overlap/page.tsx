import type { Metadata } from 'next';
import Link from 'next/link';
import { requireSite } from '@/server/auth/current';
import { listSegments } from '@/server/db/segments';
import { poolOf } from '@/server/db/sharedPool';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';
import { OverlapMatrix } from '@/studio/segments/OverlapMatrix';

export const metadata: Metadata = { title: 'Overlap' };

export default async function OverlapPage() {
  const { site } = await requireSite();
  const segments = await listSegments(poolOf(site.id), site.id);
  return (
    <div className="p-6">
      <ScreenHead title="Overlap" note="How much of each segment is in the others">
        <Link className="act-quiet" href="/segments">
          All segments
        </Link>
      </ScreenHead>
      <OverlapMatrix segments={segments.map(({ id, name }) => ({ id, name }))} />
    </div>
  );
}
