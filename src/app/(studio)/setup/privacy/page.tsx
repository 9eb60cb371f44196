import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { may } from '@/server/auth/rights';
import { poolOf } from '@/server/db/sharedPool';
import { personSchema } from '@/server/http/requests';
import { DATA_MAP } from '@/server/privacy/dataMap';
import { listReceipts } from '@/server/privacy/person';
import { keptOf } from '@/server/privacy/retention';
import { PrivacyScreen } from '@/studio/privacy/PrivacyScreen';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'Privacy' };

export default async function PrivacyPage({ searchParams }: { searchParams: Promise<Record<string, string | string[] | undefined>> }) {
  const { site, member } = await requireSite();
  const [kept, receipts, asked] = await Promise.all([
    keptOf(poolOf(site.id), site.id),
    listReceipts(poolOf(site.id), site.id),
    searchParams,
  ]);
  return (
    <div className="p-6">
      <SetupHead note="How long what is kept, what is on record of one person, and what you may tell your visitors." />
      <PrivacyScreen
        site={site.name}
        kept={kept}
        receipts={receipts.map(({ at, ...one }) => ({ ...one, at: at.getTime() }))}
        map={Object.entries(DATA_MAP).filter(([, { whose }]) => whose === 'visitors')}
        isOwner={may(member.role, 'own')}
        found={personSchema.safeParse(asked).data}
      />
    </div>
  );
}
