import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { requireSite } from '@/server/auth/current';
import { may } from '@/server/auth/rights';
import { listRecordedPages, listVisits } from '@/server/db/visits';
import { poolOf, readingOf } from '@/server/db/sharedPool';
import { browserOf } from '@/server/privacy/find';
import { loadFacts } from '@/server/visitors/facts';
import { sectionsOf } from '@/studio/ribbon/layout';
import { VisitorHistory } from '@/studio/visitors/VisitorHistory';

export const metadata: Metadata = { title: 'Visitor' };

const MOST_VISITS = 60;

export default async function VisitorPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ view?: string; t?: string }>;
}) {
  const { site, member } = await requireSite();
  const id = Number((await params).id);
  if (!Number.isSafeInteger(id) || id < 1) notFound();
  const db = await (await readingOf(site.id)).caughtUp();
  const [facts, visits, pages] = await Promise.all([
    loadFacts(db, site.id, id),
    listVisits(db, site.id, { limit: MOST_VISITS, visitorIds: [id] }),
    listRecordedPages(db, site.id),
  ]);
  if (!facts) notFound();
  const { view, t } = await searchParams;
  const browser = may(member.role, 'own') ? await browserOf(poolOf(site.id), site.id, id) : undefined;
  return (
    <VisitorHistory
      facts={facts}
      visits={visits}
      sections={sectionsOf(pages)}
      browser={browser}
      mayUndo={may(member.role, 'edit')}
      at={view ? { view, t: Number(t) || 0 } : undefined}
    />
  );
}
