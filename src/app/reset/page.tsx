import type { Metadata } from 'next';
import { findTicket } from '@/server/auth/tickets';
import { pool } from '@/server/db/sharedPool';
import { AccessForm } from '@/studio/frame/AccessForm';
import { resetAction } from './actions';

export const dynamic = 'force-dynamic';
export const metadata: Metadata = { title: 'A new password', referrer: 'no-referrer' };

export default async function ResetPage({ searchParams }: { searchParams: Promise<{ ticket?: string | string[] }> }) {
  const { ticket } = await searchParams;
  const token = typeof ticket === 'string' ? ticket : '';
  const isGood = (await findTicket(pool(), 'reset', token)) !== undefined;
  return (
    <AccessForm
      title="A new password"
      note={isGood ? 'With it you are signed out everywhere else.' : 'This link is over, or was used before. Ask for another one.'}
      fields={
        isGood ? [{ name: 'password', label: 'Password, at least 10 characters', type: 'password', autoComplete: 'new-password' }] : []
      }
      held={{ ticket: token }}
      act={resetAction}
      button="Keep it"
      busy="Keeping it"
    />
  );
}
