import type { Queryable } from './queryable';
import { many } from './queryable';

/** What is done by itself for one thing at a time, and how it is called where it did not work. */
export const JOBS = {
  'mail waiting': 'Telling the team by mail that somebody waits',
  'mail answer': 'Mailing an answer to a visitor',
  'mail copy': 'Mailing a copy of a conversation',
  'weekly mail': 'Mailing the week’s results',
  'pass on': 'Giving a conversation to the next person',
  schedule: 'Beginning or ending a campaign as set',
  deliver: 'Sending to a connection',
  seal: 'Putting days in columns for counting',
  'let go': 'Letting go of what is kept no longer',
  secret: 'Encrypting a secret',
} as const;
export type Job = keyof typeof JOBS;

export interface FailedTask {
  readonly job: Job;
  readonly subject: string;
  /** What it is about, for people. */
  readonly name: string;
  /** Why, in the words of what failed. */
  readonly words: string;
  readonly times: number;
  readonly at: Date;
  /** Null: it is not tried again by itself. */
  readonly nextAt: Date | null;
}

/** One thing of a job. */
export interface Task {
  readonly site: number;
  readonly subject: string;
  readonly name: string;
}

const FIRST_MS = 60_000;
const MOST_MS = 6 * 3_600_000;
const MOST_WORDS = 500;

/** SQL: that something of a job does not rest after it failed. `site` and `subject` are expressions, `now` is a parameter of UTC ms. */
export const isNotResting = (job: Job, site: string, subject: string, now: string): string =>
  `not exists (select from failed_task where failed_task.site_id = ${site} and job = '${job}' and failed_task.subject = ${subject} and (next_at is null or next_at > at_ms(${now})))`;

/** It will never work by trying again: it is said, and left to people. */
export class GivenUp extends Error {}

export interface Steps {
  /** Does it for one thing. Where that fails it is written down, and tried again later and later; others are not kept from theirs. Gives whether it was done. */
  readonly step: (task: Task, work: () => Promise<unknown>) => Promise<boolean>;
  /** What failed, in the order in which it did. */
  readonly failures: readonly unknown[];
}

/**
 * Goes from one thing of a job to the next, whatever becomes of each. What failed once and works now is struck off. `now`: UTC ms. `endsAll`: causes that
 * are not this thing's, with which nothing gets through at present: they are thrown on.
 */
export async function steps(
  db: Queryable,
  job: Job,
  { now, endsAll = () => false }: { now: number; endsAll?: (cause: unknown) => boolean },
): Promise<Steps> {
  const known = new Set(
    (await many<{ site: number; subject: string }>(db, `select site_id as site, subject from failed_task where job = $1`, [job])).map(
      ({ site, subject }) => `${site} ${subject}`,
    ),
  );
  const failures: unknown[] = [];
  return {
    failures,
    step: async ({ site, subject, name }, work) => {
      try {
        await work();
      } catch (cause) {
        if (endsAll(cause)) throw cause;
        failures.push(cause);
        const words = (cause instanceof Error ? cause.message : String(cause)).slice(0, MOST_WORDS);
        await db.query(
          `insert into failed_task (site_id, job, subject, name, words, at, next_at)
           values ($1, $2, $3, $4, $5, at_ms($6), case when $7 then null else at_ms($6::float8 + ${FIRST_MS}) end)
           on conflict (site_id, job, subject) do update set name = excluded.name, words = excluded.words, at = excluded.at, times = failed_task.times + 1,
             next_at = case when $7 then null else at_ms($6::float8 + least(${MOST_MS}, ${FIRST_MS} * power(2, least(failed_task.times, 20)))) end`,
          [site, job, subject, name, words, now, cause instanceof GivenUp],
        );
        return false;
      }
      if (known.has(`${site} ${subject}`))
        await db.query(`delete from failed_task where site_id = $1 and job = $2 and subject = $3`, [site, job, subject]);
      return true;
    },
  };
}

const MOST_LISTED = 200;

/** What did not work for a site, the latest first. */
export const listFailed = (db: Queryable, siteId: number): Promise<FailedTask[]> =>
  many<FailedTask & Record<string, unknown>>(
    db,
    `select job, subject, name, words, times, at, next_at as "nextAt" from failed_task where site_id = $1 order by at desc, job, subject limit ${MOST_LISTED}`,
    [siteId],
  );

type Which = Pick<FailedTask, 'job' | 'subject'>;

/** It is tried as soon as the job comes to it. Gives whether it is in the list. `now`: UTC ms. */
export async function tryAgain(db: Queryable, siteId: number, { job, subject }: Which, now: number): Promise<boolean> {
  const { rowCount } = await db.query(`update failed_task set next_at = at_ms($4) where site_id = $1 and job = $2 and subject = $3`, [
    siteId,
    job,
    subject,
    now,
  ]);
  return rowCount === 1;
}

/** It is not tried again, and told no more. Gives whether it was in the list. */
export async function putAside(db: Queryable, siteId: number, { job, subject }: Which): Promise<boolean> {
  const { rowCount } = await db.query(`delete from failed_task where site_id = $1 and job = $2 and subject = $3`, [siteId, job, subject]);
  return rowCount === 1;
}
