import type { TaskList } from 'graphile-worker';
import type { Directory } from '../db/directory';
import type { Queryable } from '../db/queryable';
import { ReadSide } from '../db/readSide';
import { mailAnswers, mailCopies, mailWaiting } from '../conversations/mails';
import type { Mail } from '../mail/mailer';
import { canMail, sendMail } from '../mail/mailer';
import { sweepTalkPictures } from '../db/talkPictures';
import { letGo } from '../privacy/retention';
import { encryptSigning } from '../db/sites';
import { KEPT_DAYS } from '../db/trash';
import { sendDue } from '../results/weekly';
import { sealSites } from '../sealed/seal';

/** One does not take another along: each is done for itself. */
const HOUSEKEEPING: readonly (readonly [sql: string, ...values: unknown[]])[] = [
  ...[0, 1].map((months) => [`select add_partitions((now() + make_interval(months => $1))::date)`, months] as const),
  [`delete from session where expires_at < now()`],
  [`delete from delivery where state = 'sent' and what <> 'lead' and sent_at < now() - interval '30 days'`],
  [`delete from trash where deleted_at < now() - make_interval(days => ${KEPT_DAYS})`],
  [`delete from sign_in_attempt where at < now() - interval '1 day'`],
  [`delete from ticket where expires_at < now()`],
  [`delete from invitation where expires_at < now() - interval '30 days'`],
  // Nobody who has been away for a fortnight is signed in still.
  [`delete from session where seen_at < now() - interval '14 days'`],
  [`delete from refused where day < current_date - 90`],
  [`delete from fault where day < current_date - 90`],
  [`delete from fault_counted where day < current_date - 2`],
  [`delete from failed_task where at < now() - interval '30 days'`],
];

/** What a visit came to is written down once it is over; a late piece takes that back, and the next round does it again. */
const closeVisits = (db: Queryable, sites: readonly number[]) =>
  db.query(
    `update visit set closed_at = last_at + interval '30 minutes', views = came.views, engaged_ms = came.engaged
       from (select over.site_id, over.id, count(page_view.id)::int as views, least(coalesce(sum(page_view.engaged_ms), 0), 2147483647)::int as engaged
               from (select site_id, id from visit where closed_at is null and last_at < now() - interval '30 minutes' and site_id = any($1)
                      order by last_at limit 20000) as over
               left join page_view on page_view.site_id = over.site_id and page_view.visit_id = over.id
              group by over.site_id, over.id) as came
      where visit.site_id = came.site_id and visit.id = came.id and closed_at is null`,
    [sites],
  );

/** What is done for every server and the sites it has. May run twice: the second time changes nothing. `home`: where is read what the home server has. */
export function tasksOn(directory: Directory, home = new ReadSide(directory.home)): TaskList {
  return {
    housekeeping: async (_payload, { logger }) => {
      const failures: unknown[] = [];
      const servers = await directory.servers();
      for (const { name, pool } of servers)
        for (const [sql, ...values] of HOUSEKEEPING)
          await pool.query(sql, values).catch((cause: unknown) => {
            logger.error(`housekeeping${name === undefined ? '' : ` of ${name}`}: ${sql}: ${String(cause)}`);
            failures.push(cause);
          });
      for (const { pool } of servers)
        for (const [what, work] of [
          ['secrets', encryptSigning],
          ['pictures', sweepTalkPictures],
        ] as const)
          await work(pool).catch((cause: unknown) => {
            logger.error(`${what}: ${String(cause)}`);
            failures.push(cause);
          });
      // Tried again later; what went is not undone by what did not.
      if (failures.length > 0)
        throw new AggregateError(failures, `${failures.length} of ${(HOUSEKEEPING.length + 2) * servers.length} tasks failed`);
      logger.info('housekeeping done');
    },
    'close-visits': async () => {
      await allOf((await directory.servers()).map(({ pool, sites }) => closeVisits(pool, sites)));
    },
    'let-go': async (_payload, { logger }) => {
      await allOf(
        (await directory.servers()).map(async ({ pool }) => {
          const { visits, leads, conversations } = await letGo(pool, Date.now());
          if (visits + leads + conversations > 0)
            logger.info(`kept no longer: ${visits} visits, ${leads} leads, ${conversations} conversations`);
        }),
      );
    },
    'weekly-mail': async (_payload, { logger }) => {
      if (!canMail()) return;
      const servers = await directory.servers();
      await allOf(
        servers.map(async ({ pool }) => {
          const sent = await sendDue(pool, { now: Date.now(), send: sendMail });
          if (sent > 0) logger.info(`${sent} weekly mails sent`);
        }),
      );
    },
    'conversation-mail': async (_payload, { logger }) => {
      if (!canMail()) return;
      const servers = await directory.servers();
      await allOf(
        servers.map(async ({ pool }) => {
          const given = { now: Date.now(), send: (mail: Mail) => sendMail(mail) };
          // One kind does not wait for another: what was refused of each is in the log of the task that failed.
          await allOf(
            [mailWaiting(pool, given), mailAnswers(pool, given), mailCopies(pool, given)].map(async (sending) => {
              const sent = await sending;
              if (sent > 0) logger.info(`${sent} mails of conversations sent`);
            }),
          );
        }),
      );
    },
    seal: async (_payload, { logger }) => {
      const log = (text: string): void => logger.info(text);
      const servers = await directory.servers();
      await allOf(
        servers.map(({ name, pool, sites }) => sealSites(name === undefined ? home : new ReadSide(pool), sites, { now: Date.now(), log })),
      );
    },
  };
}

/** A server that is away does not keep the others from what is theirs. @throws AggregateError of what failed */
async function allOf(work: readonly Promise<unknown>[]): Promise<void> {
  const failures = (await Promise.allSettled(work)).flatMap((each) => (each.status === 'rejected' ? [each.reason as unknown] : []));
  if (failures.length > 0) throw new AggregateError(failures, failures.map(String).join('; '));
}
