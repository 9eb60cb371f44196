import { cookies, headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { cache } from 'react';
import type { Member } from '../db/members';
import type { Site } from '../db/sites';
import { findSite } from '../db/sites';
import { pool, poolOf } from '../db/sharedPool';
import { isHttps } from '../http/address';
import { KNOWN_COOKIE } from './known';
import { NO_ACCESS, PATH_HEADER } from './path';
import { may, rightOfPage } from './rights';
import { SESSION_COOKIE } from './sessionCookie';
import { memberOf, SESSION_DAYS } from './signIn';

const KNOWN_DAYS = 365;

export const currentMember = cache(async (): Promise<Member | undefined> => {
  const token = (await cookies()).get(SESSION_COOKIE)?.value;
  return token ? memberOf(pool(), token) : undefined;
});

/** Lets the browser stay signed in; `mark`: what says that it has signed in with this email. */
export async function keepSession(token: string, mark?: string): Promise<void> {
  const jar = await cookies();
  if (mark !== undefined)
    jar.set(KNOWN_COOKIE, mark, { httpOnly: true, sameSite: 'lax', path: '/sign-in', maxAge: KNOWN_DAYS * 86_400, secure: isHttps() });
  jar.set(SESSION_COOKIE, token, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    maxAge: SESSION_DAYS * 86_400,
    secure: isHttps(),
  });
}

/** The session that is signed in by, as the browser says it. Asked where somebody is known to be signed in. */
export async function requireSession(): Promise<string> {
  return (await cookies()).get(SESSION_COOKIE)?.value ?? '';
}

/** For pages: who is not signed in is sent to sign in. */
export async function requireMember(): Promise<Member> {
  return (await currentMember()) ?? redirect('/sign-in');
}

/** The site that whoever asks is at, if they may open this screen; otherwise they are told why not. */
export async function requireSite(): Promise<{ member: Member; site: Site }> {
  const member = await requireMember();
  const path = (await headers()).get(PATH_HEADER) ?? '';
  const right = rightOfPage(path);
  if (path !== NO_ACCESS && (right === undefined || !may(member.role, right)))
    redirect(`${NO_ACCESS}?${new URLSearchParams({ of: path })}`);
  const site = await findSite(poolOf(member.siteId), member.siteId);
  if (!site) redirect('/sign-in');
  return { member, site };
}
