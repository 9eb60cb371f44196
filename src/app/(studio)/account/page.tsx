import type { Metadata } from 'next';
import { requireSession, requireSite } from '@/server/auth/current';
import { tokenHash } from '@/server/auth/token';
import { factorOf, listSessions } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { AccountScreen } from '@/studio/account/AccountScreen';
import { ScreenHead } from '@/studio/parts/layout/ScreenHead';

export const metadata: Metadata = { title: 'Your account' };

export default async function AccountPage() {
  const { member } = await requireSite();
  const [sessions, factor] = await Promise.all([
    listSessions(pool(), member.id, tokenHash(await requireSession())),
    factorOf(pool(), member.id),
  ]);
  return (
    <div className="p-6">
      <ScreenHead title="Your account" />
      <AccountScreen
        name={member.name}
        email={member.email}
        {...factor}
        sessions={sessions.map((one) => ({ ...one, since: one.since.getTime(), seenAt: one.seenAt.getTime() }))}
      />
    </div>
  );
}
