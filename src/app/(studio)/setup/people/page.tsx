import type { Metadata } from 'next';
import { requireSite } from '@/server/auth/current';
import { listInvitations } from '@/server/auth/invitations';
import { may } from '@/server/auth/rights';
import { Members } from '@/studio/account/Members';
import { hereNow } from '@/server/db/colleagues';
import { listSavedAnswers } from '@/server/db/savedAnswers';
import { listMembers } from '@/server/db/members';
import { pool, poolOf } from '@/server/db/sharedPool';
import { pictureUrl } from '@/server/pictures/url';
import { PeopleScreen } from '@/studio/conversations/PeopleScreen';
import { SetupHead } from '@/studio/setup/SetupHead';

export const metadata: Metadata = { title: 'People' };

export default async function PeoplePage() {
  const { site, member } = await requireSite();
  const [colleagues, saved, members, invitations] = await Promise.all([
    hereNow(poolOf(site.id), site.id),
    listSavedAnswers(poolOf(site.id), site.id),
    listMembers(pool(), site.id),
    listInvitations(pool(), site.id),
  ]);
  return (
    <div className="grid grid-cols-1 gap-4 p-6">
      <SetupHead note="Who is of the site and what they may; who answers visitors, what visitors see of them, and when they are here." />
      {may(member.role, 'own') && (
        <Members
          members={members.map((one) => ({ ...one, seenAt: one.seenAt?.getTime() ?? null }))}
          invitations={invitations.map((one) => ({ ...one, expiresAt: one.expiresAt.getTime() }))}
          me={member.id}
        />
      )}
      <PeopleScreen
        people={colleagues.map(({ presence, calendar, ...one }) => ({
          ...one,
          picture: one.picture && pictureUrl(site.key, one.picture),
          hours: presence.hours,
          calendar: { ...calendar, at: calendar.at?.getTime() ?? null },
        }))}
        saved={saved}
        me={member.id}
        mayEditAll={may(member.role, 'edit')}
      />
    </div>
  );
}
