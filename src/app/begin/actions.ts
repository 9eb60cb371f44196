'use server';

import { redirect } from 'next/navigation';
import { keepSession } from '@/server/auth/current';
import { enter } from '@/server/auth/signIn';
import { weakness } from '@/server/auth/password';
import { isUnavailable } from '@/server/db/queryable';
import { pool } from '@/server/db/sharedPool';
import { passwordOf, textOf } from '@/server/http/form';
import { fromWhere } from '@/server/http/from';
import { hostTyped, makeFirst, NotFirst, NoTicket } from '@/server/sites/make';
import { isEmailTyped, NO_EMAIL } from '@/core/parsing/email';
import type { AccessState } from '@/studio/frame/AccessForm';

export async function beginAction(_before: AccessState, form: FormData): Promise<AccessState> {
  const typed = { name: textOf(form, 'name'), email: textOf(form, 'email'), site: textOf(form, 'site'), address: textOf(form, 'address') };
  const password = passwordOf(form);
  const host = hostTyped(typed.address);
  if (!typed.name || typed.name.length > 200) return { typed, error: 'Your name: expected one of 1 to 200 letters' };
  if (!isEmailTyped(typed.email)) return { typed, error: NO_EMAIL(typed.email) };
  const weak = weakness(password, [typed.name, typed.email, typed.site]);
  if (weak !== undefined) return { typed, error: `Password: ${weak}` };
  if (!typed.site || typed.site.length > 200) return { typed, error: 'Name of the site: expected one of 1 to 200 letters' };
  if (!host) return { typed, error: `Address: met “${typed.address.slice(0, 100)}”, expected a host such as www.example.com` };
  try {
    const { email, name, site } = typed;
    const memberId = await makeFirst(pool(), { ticket: textOf(form, 'ticket'), name, email, password, site, host });
    await keepSession(await enter(pool(), memberId, await fromWhere()));
  } catch (cause) {
    if (cause instanceof NotFirst) redirect('/sign-in');
    if (cause instanceof NoTicket) return { typed, error: cause.message };
    if (!isUnavailable(cause)) throw cause;
    return { typed, error: 'The database cannot be reached. Try again in a moment.' };
  }
  redirect('/setup');
}
