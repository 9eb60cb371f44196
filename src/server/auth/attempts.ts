import { randomUUID } from 'node:crypto';
import type { Queryable } from '../db/queryable';
import { many, one } from '../db/queryable';

/** Tries of one email from one address that go without waiting; every further one waits twice as long as the last, up to a quarter of an hour. */
const FREE = 5;
const LONGEST_WAIT_S = 900;
/** In a quarter of an hour: tries from one address, whoever they are for, */
const MOST_OF_ADDRESS = 60;
/** and for one email from browsers that never signed in with it. Whoever knows the email may use these up: browsers of their owner's go past. */
const MOST_OF_EMAIL = 60;

/** Wrong codes of a second step in an hour, of one member, however often they begin anew. Whoever gets so far knows the password. */
export const MOST_CODES_AN_HOUR = 10;
const CODES_WITHIN_S = 3600;

export interface Attempt {
  readonly id: string;
  /** Seconds to wait, where this try is not to be looked at. */
  readonly wait?: number;
}

/**
 * Notes a try before anything is computed for it, so that many at once count each other. `isKnown`: the browser has signed in with this email before.
 */
export async function noteAttempt(
  db: Queryable,
  { email, address, isKnown }: { email: string; address: string; isKnown: boolean },
): Promise<Attempt> {
  const id = randomUUID();
  const lower = email.toLowerCase().slice(0, 200);
  const subjects = [`pair ${lower} ${address}`, `address ${address}`, ...(isKnown ? [] : [`email ${lower}`])];
  await db.query(`insert into sign_in_attempt (subject, id) select unnest($1::text[]), $2`, [subjects, id]);
  const counted = await many<{ kind: string; times: number; seconds: number }>(
    db,
    `select split_part(subject, ' ', 1) as kind, count(*)::int as times, extract(epoch from now() - max(at))::float8 as seconds from sign_in_attempt
      where subject = any($1) and id <> $2 and at > now() - interval '15 minutes' group by 1`,
    [subjects, id],
  );
  const waits = counted.map(({ kind, times, seconds }) => {
    if (kind === 'address') return times >= MOST_OF_ADDRESS ? LONGEST_WAIT_S : 0;
    if (kind === 'email') return times >= MOST_OF_EMAIL ? LONGEST_WAIT_S : 0;
    return times < FREE ? 0 : Math.min(LONGEST_WAIT_S, 2 ** (times - FREE + 1)) - seconds;
  });
  const wait = Math.max(0, ...waits);
  if (wait <= 0) return { id };
  // It was not looked at, so it is none: who goes on trying waits no longer for it.
  await forgetAttempt(db, id);
  return { id, wait: Math.ceil(wait) };
}

/** Notes a try of a second step before it is looked at; `isLast`: another one is not looked at for a while. */
export async function noteCode(db: Queryable, memberId: number): Promise<Attempt & { readonly isLast: boolean }> {
  const id = randomUUID();
  const subject = `code ${memberId}`;
  await db.query(`insert into sign_in_attempt (subject, id) values ($1, $2)`, [subject, id]);
  const { times, seconds } = await one<{ times: number; seconds: number | null }>(
    db,
    `select count(*)::int as times, extract(epoch from now() - min(at))::float8 as seconds
       from (select at from sign_in_attempt where subject = $1 and id <> $2 and at > now() - make_interval(secs => ${CODES_WITHIN_S})
              order by at desc limit ${MOST_CODES_AN_HOUR}) as before`,
    [subject, id],
  );
  if (times < MOST_CODES_AN_HOUR) return { id, isLast: times === MOST_CODES_AN_HOUR - 1 };
  await forgetAttempt(db, id);
  return { id, isLast: false, wait: Math.max(1, Math.ceil(CODES_WITHIN_S - (seconds ?? 0))) };
}

/** It was right, or was not looked at. */
export async function forgetAttempt(db: Queryable, id: string): Promise<void> {
  await db.query(`delete from sign_in_attempt where id = $1`, [id]);
}

/** Whoever is in starts anew. */
export async function forgetAttemptsOf(db: Queryable, { email, address }: { email: string; address: string }): Promise<void> {
  await db.query(`delete from sign_in_attempt where subject = $1`, [`pair ${email.toLowerCase().slice(0, 200)} ${address}`]);
}
