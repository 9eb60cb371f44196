import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { isFirstStart } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { BeginForm } from '@/studio/frame/BeginForm';
import { beginAction } from './actions';

export const dynamic = 'force-dynamic';

export const metadata: Metadata = { title: 'Begin' };

export default async function BeginPage() {
  if (!(await isFirstStart(pool()))) redirect('/sign-in');
  return <BeginForm begin={beginAction} />;
}
