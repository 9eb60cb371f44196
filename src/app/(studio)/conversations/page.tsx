import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { poolOf } from '@/server/db/sharedPool';
import { listRecordedPages } from '@/server/db/visits';
import { may } from '@/server/auth/rights';
import { ConversationsScreen } from '@/studio/conversations/ConversationsScreen';
import { sectionsOf } from '@/studio/ribbon/layout';

export const metadata: Metadata = { title: 'Conversations' };

export default async function ConversationsPage() {
  const { site, member } = await requireSite();
  const pages = await listRecordedPages(poolOf(site.id), site.id);
  return <ConversationsScreen site={site.name} mayAnswer={may(member.role, 'answer')} sections={sectionsOf(pages)} />;
}
