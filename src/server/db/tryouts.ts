import { createHash, randomBytes } from 'node:crypto';
import type { Pointed } from '@/core/tryout/asked';
import type { Queryable } from './queryable';
import { maybeOne } from './queryable';

/** What an address was opened with has to be used within this, */
const TICKET_MINUTES = 5;
/** and a tab that is not heard of for so long has ended. */
const SILENCE_MINUTES = 20;

const hashOf = (token: string): Buffer => createHash('sha256').update(token).digest();
const secret = (): string => randomBytes(24).toString('base64url');

export type Wanted = 'page' | 'element';

export interface Tryout {
  readonly id: string;
  readonly siteId: number;
  readonly campaign: string | null;
  readonly wants: Wanted | null;
}

/** Opens a try-out for whoever is signed in by this session; the ticket is good for one page load. */
export async function openTryout(
  db: Queryable,
  { siteId, session, campaign, wants }: { siteId: number; session: string; campaign?: string | undefined; wants?: Wanted | undefined },
): Promise<{ id: string; ticket: string }> {
  const [id, ticket] = [`try_${secret().slice(0, 12)}`, secret()];
  await db.query(`delete from tryout where last_at < now() - make_interval(mins => $1)`, [SILENCE_MINUTES]);
  await db.query(`insert into tryout (id, site_id, session_hash, token_hash, campaign, wants) values ($1, $2, $3, $4, $5, $6)`, [
    id,
    siteId,
    hashOf(session),
    hashOf(ticket),
    campaign ?? null,
    wants ?? null,
  ]);
  return { id, ticket };
}

/** Whoever opened it is signed in still, and of the site. */
const IS_THEIRS = `session.token_hash = tryout.session_hash and session.expires_at > now()
        and exists (select from membership where member_id = session.member_id and membership.site_id = tryout.site_id)`;

const COLUMNS = `tryout.id, tryout.site_id as "siteId", campaign, wants`;

/** Changes a ticket for a token; undefined where it is none, was used, or is too old. */
export async function beginTryout(db: Queryable, key: string, ticket: string): Promise<(Tryout & { readonly token: string }) | undefined> {
  const token = secret();
  const begun = await maybeOne<Tryout & Record<string, unknown>>(
    db,
    `update tryout set token_hash = $3, begun_at = now(), last_at = now()
       from site, session
      where tryout.token_hash = $2 and begun_at is null and tryout.created_at > now() - make_interval(mins => ${TICKET_MINUTES})
        and site.id = tryout.site_id and site.key = $1
        and ${IS_THEIRS}
     returning ${COLUMNS}`,
    [key, hashOf(ticket), hashOf(token)],
  );
  return begun && { ...begun, token };
}

/** The try-out of a token, which is heard of by that; undefined where it has ended or is of another site. */
export async function findTryout(db: Queryable, key: string, token: string): Promise<Tryout | undefined> {
  const found = await maybeOne<Tryout & { isQuiet: boolean } & Record<string, unknown>>(
    db,
    `select ${COLUMNS}, last_at < now() - interval '10 seconds' as "isQuiet"
       from tryout join site on site.id = tryout.site_id join session on ${IS_THEIRS}
      where tryout.token_hash = $2 and site.key = $1 and begun_at is not null
        and last_at > now() - make_interval(mins => ${SILENCE_MINUTES})`,
    [key, hashOf(token)],
  );
  if (found?.isQuiet) await db.query(`update tryout set last_at = now() where id = $1`, [found.id]);
  return found;
}

export async function endTryout(db: Queryable, id: string): Promise<void> {
  await db.query(`delete from tryout where id = $1`, [id]);
}

/** Keeps what was pointed at for the field that waits for it. */
export async function notePointed(db: Queryable, id: string, picked: Pointed): Promise<void> {
  await db.query(`update tryout set picked = $2 where id = $1`, [id, picked]);
}

/** What was pointed at for a field of this session's; null while nothing was, undefined where there is no such try-out any more. */
export async function findPointed(
  db: Queryable,
  { id, session }: { id: string; session: string },
): Promise<{ picked: Pointed | null } | undefined> {
  return maybeOne<{ picked: Pointed | null }>(
    db,
    `select picked from tryout where id = $1 and session_hash = $2 and wants is not null and last_at > now() - make_interval(mins => ${SILENCE_MINUTES})`,
    [id, hashOf(session)],
  );
}
