import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { findSegment } from '@/server/db/segments';
import { loadRecorded } from '@/server/db/recorded';
import { poolOf } from '@/server/db/sharedPool';
import { usersOf } from '@/server/segments/users';
import { RecordedProvider } from '@/studio/rule/recorded';
import { SegmentEditor } from '@/studio/segments/SegmentEditor';

export const metadata: Metadata = { title: 'Segment' };

export default async function SegmentPage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const { id } = await params;
  const segment = await findSegment(poolOf(site.id), site.id, id);
  if (!segment) notFound();
  const [recorded, users] = await Promise.all([loadRecorded(poolOf(site.id), site.id), usersOf(poolOf(site.id), site.id, 'segments', id)]);
  const { name, lookback, people, revision } = segment;
  return (
    <RecordedProvider value={recorded}>
      <SegmentEditor
        key={`${id} ${revision}`}
        id={id}
        initial={{ name, lookback, people }}
        revision={revision}
        users={users}
        otherNames={recorded.segments.map((one) => one.name)}
      />
    </RecordedProvider>
  );
}
