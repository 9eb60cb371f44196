import type { Metadata } from 'next';
import Link from 'next/link';
import { requireSite } from '@/server/auth/current';
import { loadRecorded } from '@/server/db/recorded';
import { countVisits } from '@/server/db/visits';
import { poolOf } from '@/server/db/sharedPool';
import { requestTime } from '@/server/http/clock';
import { Empty } from '@/studio/parts/layout/Empty';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';
import { RecordedProvider } from '@/studio/rule/recorded';
import { VisitScreen } from '@/studio/visits/VisitScreen';

export const metadata: Metadata = { title: 'Visits' };

export default async function VisitsPage() {
  const { site } = await requireSite();
  const [counts, recorded] = await Promise.all([countVisits(poolOf(site.id), site.id), loadRecorded(poolOf(site.id), site.id)]);
  if (counts.visits === 0)
    return (
      <div className="p-6">
        <ScreenHead title="Visits" />
        <Empty
          title="No visits yet"
          action={
            <Link className="act" href="/setup">
              Put the script on the site
            </Link>
          }
        >
          As soon as the script is on a page, each visit is drawn here as a ribbon: pages as lengths, scrolling as a fill that rises, a flag
          where a message showed.
        </Empty>
      </div>
    );
  return (
    <RecordedProvider value={recorded}>
      <VisitScreen asOf={requestTime()} total={counts} />
    </RecordedProvider>
  );
}
