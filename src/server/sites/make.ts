import { randomBytes } from 'node:crypto';
import type pg from 'pg';
import { hashPassword } from '../auth/password';
import { studioUrl } from '../auth/reset';
import { findTicket, makeTicket, takeTicket } from '../auth/tickets';
import { createMember, isFirstStart, joinSite } from '../db/members';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import type { Site } from '../db/sites';
import { createSite } from '../db/sites';

const LETTERS = 'abcdefghijkmnpqrstuvwxyz23456789';

/** What a page calls the site by: not guessed, and no secret. */
const newKey = (): string => Array.from(randomBytes(14), (byte) => LETTERS[byte % LETTERS.length]).join('');

/** A host as it is typed, with or without what an address bar has around it: "https://www.example.com/" is www.example.com. */
export function hostTyped(typed: string): string | undefined {
  const text = typed.trim().toLowerCase();
  const whole = /^https?:\/\//.test(text) ? text : `http://${text}`;
  if (!URL.canParse(whole)) return undefined;
  const { host } = new URL(whole);
  return /^[a-z0-9.-]+(:\d{1,5})?$/.test(host) ? host : undefined;
}

/** A site with its owner; an address without www stands for the one with it, and the other way round. */
export async function makeSite(tx: Queryable, { name, host, memberId }: { name: string; host: string; memberId: number }): Promise<Site> {
  const other = host.startsWith('www.') ? host.slice(4) : `www.${host}`;
  const isDomain = /\.[a-z]{2,}$/.test(host);
  const site = await createSite(tx, { key: newKey(), name, addresses: isDomain ? [host, other] : [host] });
  await joinSite(tx, { siteId: site.id, memberId, role: 'owner' });
  return site;
}

/** Somebody was quicker. */
export class NotFirst extends Error {}

/** The link was not the one from the terminal. */
export class NoTicket extends Error {}

const FIRST_MINUTES = 24 * 60;

/** The link that leads to making the first account; undefined where somebody has one. The last one alone is good. */
export async function firstLink(db: Queryable): Promise<string | undefined> {
  if (!(await isFirstStart(db))) return undefined;
  return studioUrl(`/begin?ticket=${await makeTicket(db, { kind: 'first', minutes: FIRST_MINUTES })}`);
}

/** Makes the first member and their site, where there is nobody yet, for whoever has the link; gives the member's number. @throws NotFirst, NoTicket */
export async function makeFirst(
  pool: pg.Pool,
  {
    ticket,
    name,
    email,
    password,
    site,
    host,
  }: { ticket: string; name: string; email: string; password: string; site: string; host: string },
): Promise<number> {
  const over = 'This link is over. ./crindle link in the terminal says a new one.';
  if (!(await findTicket(pool, 'first', ticket))) throw new NoTicket(over);
  const passwordHash = await hashPassword(password);
  return withTransaction(pool, async (tx) => {
    await tx.query(`lock table member in share row exclusive mode`);
    if (!(await isFirstStart(tx))) throw new NotFirst('Somebody has an account here already');
    if (!(await takeTicket(tx, 'first', ticket))) throw new NoTicket(over);
    const memberId = await createMember(tx, { email, name, passwordHash });
    await makeSite(tx, { name: site, host, memberId });
    return memberId;
  });
}
