'use server';

import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { currentMember, keepSession, SESSION_COOKIE } from '@/server/auth/current';
import { signIn, signOut } from '@/server/auth/signIn';
import { isUnavailable } from '@/server/db/queryable';
import { pool } from '@/server/db/sharedPool';
import type { SignInState } from '@/studio/frame/SignInForm';

export async function signInAction(_before: SignInState, form: FormData): Promise<SignInState> {
  const email = textOf(form, 'email').trim();
  const password = textOf(form, 'password');
  if (!/^\S+@\S+$/.test(email)) return { email, error: `Email: met “${email}”, expected an address such as you@example.com` };
  if (!password) return { email, error: 'Password: it is empty' };
  let token: string;
  try {
    const address = (await headers()).get('x-forwarded-for')?.split(',')[0]?.trim() ?? 'direct';
    const result = await signIn(pool(), { email, password: password.slice(0, 1000), address });
    if (result.kind === 'throttled') return { email, error: 'Too many failed tries. Wait a quarter of an hour, then try again.' };
    if (result.kind === 'wrong') return { email, error: 'This email and password do not go together.' };
    token = result.token;
  } catch (cause) {
    if (!isUnavailable(cause)) throw cause;
    return { email, error: 'The database cannot be reached. Try again in a moment.' };
  }
  await keepSession(token);
  redirect('/');
}

function textOf(form: FormData, name: string): string {
  const value = form.get(name);
  return typeof value === 'string' ? value : '';
}

export async function signOutAction(): Promise<void> {
  const jar = await cookies();
  const token = jar.get(SESSION_COOKIE)?.value;
  if (token && (await currentMember())) await signOut(pool(), token);
  jar.delete(SESSION_COOKIE);
  redirect('/sign-in');
}
