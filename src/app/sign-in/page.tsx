import { signInAction } from './actions';
import type { Metadata } from 'next';
import { SignInForm } from '@/studio/frame/SignInForm';

export const metadata: Metadata = { title: 'Sign in' };

export default function SignInPage() {
  return <SignInForm signIn={signInAction} />;
}
