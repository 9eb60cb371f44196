import type { Metadata } from 'next';
import Link from 'next/link';
import { requireSite } from '@/server/auth/current';
import { countVisits, listRecordedPages, listVisits } from '@/server/db/visits';
import { pool } from '@/server/pool';
import { Empty } from '@/studio/parts/Empty';
import { ScreenHead } from '@/studio/parts/ScreenHead';
import { sectionsOf } from '@/studio/ribbon/layout';
import { RibbonList } from '@/studio/ribbon/RibbonList';

export const metadata: Metadata = { title: 'Visits' };

const PAGE = 40;

export default async function VisitsPage({ searchParams }: { searchParams: Promise<{ before?: string }> }) {
  const { site } = await requireSite();
  const before = Number((await searchParams).before);
  const [counts, pages, visits] = await Promise.all([
    countVisits(pool(), site.id),
    listRecordedPages(pool(), site.id),
    listVisits(pool(), site.id, { limit: PAGE, ...(Number.isFinite(before) && before > 0 ? { before } : {}) }),
  ]);
  const oldest = visits.at(-1)?.at;
  return (
    <div className="p-6">
      <ScreenHead
        title="Visits"
        note={`${counts.visits.toLocaleString('en-GB')} visits of ${counts.visitors.toLocaleString('en-GB')} visitors, ${counts.views.toLocaleString('en-GB')} page views`}
      />
      {visits.length === 0 ? (
        <Empty
          title={before > 0 ? 'No older visits' : 'No visits yet'}
          action={
            <Link className="act" href="/setup">
              Put the script on the site
            </Link>
          }
        >
          As soon as the script is on a page, each visit is drawn here as a ribbon: pages as lengths, scrolling as a fill that rises, a flag
          where a message showed.
        </Empty>
      ) : (
        <RibbonList visits={visits} sections={sectionsOf(pages)} />
      )}
      {visits.length === PAGE && (
        <p className="mt-4 flex gap-2">
          {before > 0 && (
            <Link className="act-quiet" href="/visits">
              Newest
            </Link>
          )}
          <Link className="act-quiet" href={`/visits?before=${oldest}`}>
            Older visits
          </Link>
        </p>
      )}
    </div>
  );
}
