import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { listRecordedPages } from '@/server/db/visits';
import { readingOf } from '@/server/db/sharedPool';
import { sectionsOf } from '@/studio/ribbon/layout';
import { TodayScreen } from '@/studio/today/TodayScreen';

export const metadata: Metadata = { title: 'Today' };

export default async function TodayPage() {
  const { site } = await requireSite();
  return <TodayScreen sections={sectionsOf(await (await readingOf(site.id)).read((db) => listRecordedPages(db, site.id)))} />;
}
