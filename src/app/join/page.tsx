import type { Metadata } from 'next';
import { findInvitation } from '@/server/auth/invitations';
import { pool } from '@/server/db/sharedPool';
import { AccessForm } from '@/studio/frame/AccessForm';
import { joinAction } from './actions';

export const dynamic = 'force-dynamic';
export const metadata: Metadata = { title: 'Join', referrer: 'no-referrer' };

export default async function JoinPage({ searchParams }: { searchParams: Promise<{ ticket?: string | string[] }> }) {
  const { ticket } = await searchParams;
  const token = typeof ticket === 'string' ? ticket : '';
  const invited = await findInvitation(pool(), token);
  const password = invited?.hasAccount
    ? ({ name: 'password', label: 'The password of your account', type: 'password', autoComplete: 'current-password' } as const)
    : ({ name: 'password', label: 'Password, at least 10 characters', type: 'password', autoComplete: 'new-password' } as const);
  return (
    <AccessForm
      title={invited ? `Join ${invited.site}` : 'Join'}
      note={
        invited
          ? `You are invited as ${invited.role}, with ${invited.email}.`
          : 'This link is over, or was used before. Ask whoever invited you for another one.'
      }
      fields={invited ? [...(invited.hasAccount ? [] : [{ name: 'name', label: 'Your name', autoComplete: 'name' }]), password] : []}
      held={{ ticket: token }}
      act={joinAction}
      button="Join"
      busy="Joining"
    />
  );
}
