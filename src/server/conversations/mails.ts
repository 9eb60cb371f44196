import type pg from 'pg';
import { listColleagues } from '../db/colleagues';
import { many } from '../db/queryable';
import { plainHtml } from '../mail/html';
import type { Mail } from '../mail/mailer';
import { NoMailServer } from '../mail/mailer';

/** Whoever has waited for so long, the team is told of by mail. */
const WAITED_MS = 10 * 60_000;
/** An answer that a visitor who left an email has not seen for so long is mailed to them. */
const UNSEEN_MS = 2 * 60_000;
const MOST_AT_ONCE = 50;

type Send = (mail: Mail) => Promise<void>;

interface Waiting {
  readonly [column: string]: unknown;
  readonly site: number;
  readonly siteName: string;
  readonly id: string;
  readonly email: string | null;
  readonly visitor: number;
  readonly member: number | null;
  readonly text: string;
  readonly since: number;
}

/** What a mail server said of some mails; all others went. */
export class MailsRefused extends Error {
  constructor(
    readonly sent: number,
    readonly refusals: readonly string[],
  ) {
    super(`${refusals.length} mails were refused, ${sent} were sent: ${refusals.slice(0, 3).join('; ')}`);
  }
}

/** Codes of nodemailer with which nothing gets through at present: it is tried again, with all others. */
const AWAY = new Set(['ECONNECTION', 'ETIMEDOUT', 'ESOCKET', 'EDNS', 'EAUTH', 'ETLS', 'ECONNREFUSED']);
const isAway = (cause: unknown): boolean =>
  cause instanceof NoMailServer || (cause instanceof Error && 'code' in cause && AWAY.has(String(cause.code)));

/** No address, or one that the server will never take (RFC 5321, 5yz). */
const isForGood = (cause: unknown): boolean => {
  const { code, responseCode = 0 } = cause as { code?: unknown; responseCode?: number };
  return responseCode >= 500 || (code === 'EENVELOPE' && responseCode === 0);
};

/**
 * Goes through mails one by one, and on where one is refused: for good it is done with, otherwise it comes again.
 * @throws MailsRefused at the end, naming what was refused
 */
async function eachMail<T>(
  list: readonly T[],
  { mailsOf, done, send }: { mailsOf: (one: T) => Promise<readonly Mail[]>; done: (one: T) => Promise<unknown>; send: Send },
): Promise<number> {
  let sent = 0;
  const refusals: string[] = [];
  for (const one of list) {
    let isDone = true;
    for (const mail of await mailsOf(one)) {
      try {
        await send(mail);
        sent++;
      } catch (cause) {
        if (isAway(cause)) throw cause;
        refusals.push(`${mail.id}: ${cause instanceof Error ? cause.message : String(cause)}`);
        isDone &&= isForGood(cause);
      }
    }
    if (isDone) await done(one);
  }
  if (refusals.length > 0) throw new MailsRefused(sent, refusals);
  return sent;
}

/** Tells the team of whoever waits too long: whoever has the conversation, or all who answer. Once a wait. Gives how many mails. `now`: UTC ms. */
export async function mailWaiting(pool: pg.Pool, { now, send }: { now: number; send: Send }): Promise<number> {
  const waiting = await many<Waiting>(
    pool,
    `select thread.site_id as site, site.name as "siteName", thread.id::text, visitor.email, visitor_id as visitor, member_id as member, last_text as text,
            ms(waits_since)::float8 as since
       from thread join site on site.id = thread.site_id join visitor on visitor.site_id = thread.site_id and visitor.id = visitor_id
      where waits_since < at_ms($1) and told_of is distinct from waits_since order by waits_since limit ${MOST_AT_ONCE}`,
    [now - WAITED_MS],
  );
  const studio = process.env['CRINDLE_STUDIO'];
  return eachMail(waiting, {
    send,
    mailsOf: async ({ site, siteName, id, email, visitor, member, text, since }) => {
      const colleagues = (await listColleagues(pool, site)).filter((one) => one.answers && (member === null || one.member === member));
      const who = email ?? `visitor ${visitor}`;
      const minutes = Math.floor((now - since) / 60_000);
      const body = [
        `${who} has waited for an answer on ${siteName} for ${minutes} minutes:`,
        `“${text}”`,
        ...(studio ? [new URL(`/conversations?thread=${id}`, studio).href] : []),
      ].join('\n\n');
      return colleagues.map((one) => ({
        id: `waits.${id}.${since}.${one.member}`,
        to: one.email,
        subject: `${who} waits for an answer`,
        text: body,
        html: plainHtml(body),
      }));
    },
    done: ({ site, id }) => pool.query(`update thread set told_of = waits_since where site_id = $1 and id = $2`, [site, id]),
  });
}

type Line = Unseen['lines'][number];

interface Wanted {
  readonly [column: string]: unknown;
  readonly site: number;
  readonly siteName: string;
  readonly id: string;
  readonly email: string;
  readonly closedAt: number;
  readonly lines: readonly Line[];
}

/** Mails copies of closed conversations to visitors who wanted one. Gives how many mails. */
export async function mailCopies(pool: pg.Pool, { send }: { send: Send }): Promise<number> {
  const wanted = await many<Wanted>(
    pool,
    `select thread.site_id as site, site.name as "siteName", thread.id::text, copy_to as email, ms(closed_at)::float8 as "closedAt",
            (select json_agg(json_build_object('by', by, 'name', member.name, 'text', text) order by seq) from line left join member on member.id = line.member_id
              where line.site_id = thread.site_id and thread_id = thread.id and by in ('script', 'visitor', 'team')) as lines
       from thread join site on site.id = thread.site_id where copy_to is not null and copied_at is null and state = 'closed' limit ${MOST_AT_ONCE}`,
  );
  return eachMail(wanted, {
    send,
    mailsOf: async ({ siteName, id, email, closedAt, lines }) => {
      const text = lines.map((line) => `${line.by === 'visitor' ? 'You' : (line.name ?? siteName)}: ${line.text}`).join('\n\n');
      return [{ id: `copy.${id}.${closedAt}`, to: email, subject: `Your conversation with ${siteName}`, text, html: plainHtml(text) }];
    },
    done: ({ site, id }) => pool.query(`update thread set copied_at = clock_timestamp() where site_id = $1 and id = $2`, [site, id]),
  });
}

interface Unseen {
  readonly [column: string]: unknown;
  readonly site: number;
  readonly siteName: string;
  readonly id: string;
  readonly email: string;
  readonly until: number;
  readonly lines: readonly { readonly by: string; readonly name: string | null; readonly text: string }[];
}

/** Mails a visitor who left an email what was answered after they had gone. Each answer once. Gives how many mails. `now`: UTC ms. */
export async function mailAnswers(pool: pg.Pool, { now, send }: { now: number; send: Send }): Promise<number> {
  const unseen = await many<Unseen>(
    pool,
    `select thread.site_id as site, site.name as "siteName", thread.id::text, visitor.email, came.until, came.lines
       from thread join site on site.id = thread.site_id join visitor on visitor.site_id = thread.site_id and visitor.id = visitor_id
       cross join lateral (
         select max(seq) as until, max(at) as at, json_agg(json_build_object('by', by, 'name', member.name, 'text', text) order by seq) as lines
           from line left join member on member.id = line.member_id
          where line.site_id = thread.site_id and thread_id = thread.id and by = 'team' and seq > greatest(visitor_seen, mailed_seq)) as came
      where thread.last_at > at_ms($1) - interval '7 days' and last_seq > greatest(visitor_seen, mailed_seq) and visitor.email is not null
        and came.until is not null and came.at < at_ms($1) limit ${MOST_AT_ONCE}`,
    [now - UNSEEN_MS],
  );
  return eachMail(unseen, {
    send,
    mailsOf: async ({ siteName, id, email, until, lines }) => {
      const text = lines.map((line) => `${line.name ?? siteName}: ${line.text}`).join('\n\n');
      return [{ id: `answer.${id}.${until}`, to: email, subject: `An answer from ${siteName}`, text, html: plainHtml(text) }];
    },
    done: ({ site, id, until }) =>
      pool.query(`update thread set mailed_seq = greatest(mailed_seq, $3) where site_id = $1 and id = $2`, [site, id, until]),
  });
}
