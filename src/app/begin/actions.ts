'use server';

import { redirect } from 'next/navigation';
import { keepSession } from '@/server/auth/current';
import { signIn } from '@/server/auth/signIn';
import { isUnavailable } from '@/server/db/queryable';
import { pool } from '@/server/db/sharedPool';
import { hostTyped, makeFirst, NotFirst } from '@/server/sites/make';
import type { BeginState } from '@/studio/frame/BeginForm';

const SHORTEST_PASSWORD = 10;

export async function beginAction(_before: BeginState, form: FormData): Promise<BeginState> {
  const textOf = (name: string): string => {
    const value = form.get(name);
    return typeof value === 'string' ? value.trim() : '';
  };
  const typed = { name: textOf('name'), email: textOf('email'), site: textOf('site'), address: textOf('address') };
  const given = form.get('password');
  const password = typeof given === 'string' ? given : '';
  const host = hostTyped(typed.address);
  if (!typed.name || typed.name.length > 200) return { ...typed, error: 'Your name: expected one of 1 to 200 letters' };
  if (!/^\S+@\S+$/.test(typed.email) || typed.email.length > 320)
    return { ...typed, error: `Email: met “${typed.email.slice(0, 100)}”, expected an address such as you@example.com` };
  if (password.length < SHORTEST_PASSWORD || password.length > 1000)
    return { ...typed, error: `Password: met ${password.length} characters, expected at least ${SHORTEST_PASSWORD}` };
  if (!typed.site || typed.site.length > 200) return { ...typed, error: 'Name of the site: expected one of 1 to 200 letters' };
  if (!host) return { ...typed, error: `Address: met “${typed.address.slice(0, 100)}”, expected a host such as www.example.com` };
  try {
    await makeFirst(pool(), { name: typed.name, email: typed.email, password, site: typed.site, host });
    const signed = await signIn(pool(), { email: typed.email, password, address: 'direct' });
    if (signed.kind === 'in') await keepSession(signed.token);
  } catch (cause) {
    if (cause instanceof NotFirst) redirect('/sign-in');
    if (!isUnavailable(cause)) throw cause;
    return { ...typed, error: 'The database cannot be reached. Try again in a moment.' };
  }
  redirect('/setup');
}
