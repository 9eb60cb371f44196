import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { listCampaigns } from '@/server/db/campaigns';
import { findSegment } from '@/server/db/segments';
import { loadRecorded } from '@/server/db/recorded';
import { pool } from '@/server/pool';
import { segmentsNamedIn } from '@/server/segments/bodies';
import { RecordedProvider } from '@/studio/rule/recorded';
import { SegmentEditor } from '@/studio/segments/SegmentEditor';

export const metadata: Metadata = { title: 'Segment' };

export default async function SegmentPage({ params }: { params: Promise<{ id: string }> }) {
  const { site } = await requireSite();
  const { id } = await params;
  const segment = await findSegment(pool(), site.id, id);
  if (!segment) notFound();
  const [recorded, campaigns] = await Promise.all([loadRecorded(pool(), site.id), listCampaigns(pool(), site.id)]);
  const usedBy = campaigns.filter(({ rule }) => segmentsNamedIn(rule.people).includes(id)).map(({ name }) => name);
  const { name, lookback, people, revision } = segment;
  return (
    <RecordedProvider value={recorded}>
      <SegmentEditor key={`${id} ${revision}`} id={id} initial={{ name, lookback, people }} revision={revision} usedBy={usedBy} />
    </RecordedProvider>
  );
}
