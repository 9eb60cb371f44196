import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { findTicket } from '@/server/auth/tickets';
import { isFirstStart } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { AccessForm } from '@/studio/frame/AccessForm';
import { beginAction } from './actions';

export const dynamic = 'force-dynamic';

export const metadata: Metadata = { title: 'Begin', referrer: 'no-referrer' };

export default async function BeginPage({ searchParams }: { searchParams: Promise<{ ticket?: string | string[] }> }) {
  if (!(await isFirstStart(pool()))) redirect('/sign-in');
  const { ticket } = await searchParams;
  const token = typeof ticket === 'string' ? ticket : '';
  const isGood = (await findTicket(pool(), 'first', token)) !== undefined;
  return (
    <AccessForm
      title="Begin with your site"
      note={
        isGood
          ? 'Nobody has an account here yet: yours is the first, and owns the site. Next you get the one line to put on it.'
          : 'Nobody has an account here yet. The link that leads to making the first one stands in the terminal where Crindle was started; ./crindle link says a new one.'
      }
      fields={
        isGood
          ? [
              { name: 'name', label: 'Your name', autoComplete: 'name' },
              { name: 'email', label: 'Email', type: 'email', autoComplete: 'username' },
              { name: 'password', label: 'Password, at least 10 characters', type: 'password', autoComplete: 'new-password' },
              { name: 'site', label: 'Name of the site', autoComplete: 'off' },
              { name: 'address', label: 'Its address, such as www.example.com', autoComplete: 'off' },
            ]
          : []
      }
      held={{ ticket: token }}
      act={beginAction}
      button="Make the site"
      busy="Making it"
    />
  );
}
