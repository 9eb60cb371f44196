'use server';

import { cookies } from 'next/headers';
import { redirect } from 'next/navigation';
import { currentMember, keepSession } from '@/server/auth/current';
import { SESSION_COOKIE } from '@/server/auth/sessionCookie';
import { noteSecurity } from '@/server/auth/securityLog';
import { KNOWN_COOKIE } from '@/server/auth/known';
import { TooManyAtOnce } from '@/server/auth/password';
import { signIn, signInByCode, signOut } from '@/server/auth/signIn';
import { guessedMail } from '@/server/auth/guessed';
import { isUnavailable } from '@/server/db/queryable';
import { pool } from '@/server/db/sharedPool';
import { passwordOf, textOf } from '@/server/http/form';
import { isHttps } from '@/server/http/address';
import { fromWhere } from '@/server/http/from';
import { canMail, sendMail } from '@/server/mail/mailer';
import { isEmailTyped, NO_EMAIL } from '@/core/parsing/email';
import type { AccessState } from '@/studio/frame/AccessForm';

/** Between the password and the code. */
const HALF_COOKIE = 'crindle_half';
const HALF_SECONDS = 300;
const AWAY = 'The database cannot be reached. Try again in a moment.';
const waitWords = (seconds: number): string => (seconds < 90 ? `${seconds} seconds` : `${Math.ceil(seconds / 60)} minutes`);

export async function signInAction(_before: AccessState, form: FormData): Promise<AccessState> {
  const email = textOf(form, 'email');
  const password = passwordOf(form);
  const typed = { email };
  if (!isEmailTyped(email)) return { typed, error: NO_EMAIL(email) };
  if (!password) return { typed, error: 'Password: it is empty' };
  const jar = await cookies();
  let to = '/';
  try {
    const from = await fromWhere();
    const result = await signIn(pool(), {
      email,
      password: password.slice(0, 1000),
      mark: jar.get(KNOWN_COOKIE)?.value,
      ...from,
    });
    noteSecurity({ what: 'sign-in', result: result.kind, who: email, address: from.address });
    if (result.kind === 'throttled') return { typed, error: `Too many failed tries. Wait ${waitWords(result.wait)}, then try again.` };
    if (result.kind === 'wrong') return { typed, error: 'This email and password do not go together.' };
    if (result.kind === 'code') {
      jar.set(HALF_COOKIE, result.ticket, {
        httpOnly: true,
        sameSite: 'strict',
        path: '/sign-in',
        maxAge: HALF_SECONDS,
        secure: isHttps(),
      });
      to = '/sign-in/code';
    } else await keepSession(result.token, result.mark);
  } catch (cause) {
    if (cause instanceof TooManyAtOnce) return { typed, error: 'Many are signing in just now. Try again in a moment.' };
    if (!isUnavailable(cause)) throw cause;
    return { typed, error: AWAY };
  }
  redirect(to);
}

/** The code of the second factor, or a spare one. */
export async function codeAction(_before: AccessState, form: FormData): Promise<AccessState> {
  const jar = await cookies();
  const ticket = jar.get(HALF_COOKIE)?.value ?? '';
  try {
    const from = await fromWhere();
    const result = await signInByCode(pool(), { ticket, code: textOf(form, 'code').slice(0, 40), now: Date.now(), ...from });
    noteSecurity({ what: 'second step', result: result.kind, address: from.address });
    if (result.kind === 'throttled') return { error: `Too many wrong codes. Wait ${waitWords(result.wait)}, then sign in again.` };
    if (result.kind === 'wrong') {
      if (result.tell !== undefined && canMail())
        await sendMail(guessedMail(result.tell, ticket)).catch((cause: unknown) => console.error('wrong codes:', cause));
      return { error: 'That code is not right, or was used before. A new one comes every half minute.' };
    }
    if (result.kind !== 'in') return { error: 'That took too long, or too many tries. Sign in again.' };
    jar.delete({ name: HALF_COOKIE, path: '/sign-in' });
    await keepSession(result.token, result.mark);
  } catch (cause) {
    if (!isUnavailable(cause)) throw cause;
    return { error: AWAY };
  }
  redirect('/');
}

/** Ends the session. Whoever calls it loads the page anew: nothing of what was seen stays in the tab, for the next one at it to go back to. */
export async function signOutAction(): Promise<void> {
  const jar = await cookies();
  const token = jar.get(SESSION_COOKIE)?.value;
  if (token && (await currentMember())) await signOut(pool(), token);
  jar.delete({ name: SESSION_COOKIE, path: '/', secure: isHttps() });
}
