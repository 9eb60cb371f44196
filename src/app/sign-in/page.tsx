import { signInAction } from './actions';
import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { isFirstStart } from '@/server/db/members';
import { pool } from '@/server/db/sharedPool';
import { SignInForm } from '@/studio/frame/SignInForm';

export const dynamic = 'force-dynamic';

export const metadata: Metadata = { title: 'Sign in' };

export default async function SignInPage() {
  // A database that is away is told by the form, once somebody tries.
  if (await isFirstStart(pool()).catch(() => false)) redirect('/begin');
  return <SignInForm signIn={signInAction} />;
}
