import type pg from 'pg';
import { listColleagues } from '../db/colleagues';
import type { Job } from '../db/failedTasks';
import { GivenUp, isNotResting, steps } from '../db/failedTasks';
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
 * Goes through mails one by one, and on where one is refused: for good it is done with, otherwise it comes again later. Either is in the list of what
 * failed. @throws MailsRefused at the end, naming what was refused
 */
async function eachMail<T extends { site: number; id: string; visitor: number }>(
  pool: pg.Pool,
  job: Job,
  list: readonly T[],
  {
    mailsOf,
    done,
    send,
    now,
  }: { mailsOf: (one: T) => Promise<readonly Mail[]>; done: (one: T) => Promise<unknown>; send: Send; now: number },
): Promise<number> {
  let sent = 0;
  const { step, failures } = await steps(pool, job, { now, endsAll: isAway });
  for (const one of list)
    await step({ site: one.site, subject: one.id, name: `The conversation of visitor ${one.visitor}` }, async () => {
      const refusals: { words: string; isForGood: boolean }[] = [];
      for (const mail of await mailsOf(one))
        await send(mail).then(
          () => sent++,
          (cause: unknown) => {
            if (isAway(cause)) throw cause;
            refusals.push({ words: `${mail.id}: ${cause instanceof Error ? cause.message : String(cause)}`, isForGood: isForGood(cause) });
          },
        );
      const isOver = refusals.every((refusal) => refusal.isForGood);
      if (isOver) await done(one);
      const words = refusals.map((refusal) => refusal.words).join('; ');
      if (words) throw isOver ? new GivenUp(words) : new Error(words);
    });
  if (failures.length > 0)
    throw new MailsRefused(
      sent,
      failures.map((cause) => (cause instanceof Error ? cause.message : String(cause))),
    );
  return sent;
}

/** Tells the team of whoever waits too long: whoever has the conversation, or all who answer. Once a wait. Gives how many mails. `now`: UTC ms. */
export async function mailWaiting(pool: pg.Pool, { now, send }: { now: number; send: Send }): Promise<number> {
  const waiting = await many<Waiting>(
    pool,
    `select thread.site_id as site, site.name as "siteName", thread.id::text, visitor.email, visitor_id as visitor, member_id as member, last_text as text,
            ms(waits_since)::float8 as since
       from thread join site on site.id = thread.site_id join visitor on visitor.site_id = thread.site_id and visitor.id = visitor_id
      where waits_since < at_ms($1) and told_of is distinct from waits_since and ${isNotResting('mail waiting', 'thread.site_id', 'thread.id::text', '$2')} order by waits_since limit ${MOST_AT_ONCE}`,
    [now - WAITED_MS, now],
  );
  const studio = process.env['CRINDLE_STUDIO'];
  return eachMail(pool, 'mail waiting', waiting, {
    send,
    now,
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
  readonly visitor: number;
  readonly email: string;
  readonly closedAt: number;
  readonly lines: readonly Line[];
}

/** Mails copies of closed conversations to visitors who wanted one. Gives how many mails. `now`: UTC ms. */
export async function mailCopies(pool: pg.Pool, { now, send }: { now: number; send: Send }): Promise<number> {
  const wanted = await many<Wanted>(
    pool,
    `select thread.site_id as site, site.name as "siteName", thread.id::text, visitor_id as visitor, copy_to as email, ms(closed_at)::float8 as "closedAt",
            (select json_agg(json_build_object('by', by, 'name', member.name, 'text', text) order by seq) from line left join member on member.id = line.member_id
              where line.site_id = thread.site_id and thread_id = thread.id and by in ('script', 'visitor', 'team')) as lines
       from thread join site on site.id = thread.site_id where copy_to is not null and copied_at is null and state = 'closed'
        and ${isNotResting('mail copy', 'thread.site_id', 'thread.id::text', '$1')} limit ${MOST_AT_ONCE}`,
    [now],
  );
  return eachMail(pool, 'mail copy', wanted, {
    send,
    now,
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
  readonly visitor: number;
  readonly email: string;
  readonly until: number;
  readonly lines: readonly { readonly by: string; readonly name: string | null; readonly text: string }[];
}

/** Mails a visitor who left an email what was answered after they had gone. Each answer once. Gives how many mails. `now`: UTC ms. */
export async function mailAnswers(pool: pg.Pool, { now, send }: { now: number; send: Send }): Promise<number> {
  const unseen = await many<Unseen>(
    pool,
    `select thread.site_id as site, site.name as "siteName", thread.id::text, visitor_id as visitor, visitor.email, came.until, came.lines
       from thread join site on site.id = thread.site_id join visitor on visitor.site_id = thread.site_id and visitor.id = visitor_id
       cross join lateral (
         select max(seq) as until, max(at) as at, json_agg(json_build_object('by', by, 'name', member.name, 'text', text) order by seq) as lines
           from line left join member on member.id = line.member_id
          where line.site_id = thread.site_id and thread_id = thread.id and by = 'team' and seq > greatest(visitor_seen, mailed_seq)) as came
      where thread.last_at > at_ms($1) - interval '7 days' and last_seq > greatest(visitor_seen, mailed_seq) and visitor.email is not null
        and came.until is not null and came.at < at_ms($1) and ${isNotResting('mail answer', 'thread.site_id', 'thread.id::text', '$2')} limit ${MOST_AT_ONCE}`,
    [now - UNSEEN_MS, now],
  );
  return eachMail(pool, 'mail answer', unseen, {
    send,
    now,
    mailsOf: async ({ siteName, id, email, until, lines }) => {
      const text = lines.map((line) => `${line.name ?? siteName}: ${line.text}`).join('\n\n');
      return [{ id: `answer.${id}.${until}`, to: email, subject: `An answer from ${siteName}`, text, html: plainHtml(text) }];
    },
    done: ({ site, id, until }) =>
      pool.query(`update thread set mailed_seq = greatest(mailed_seq, $3) where site_id = $1 and id = $2`, [site, id, until]),
  });
}
