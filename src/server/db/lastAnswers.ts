import type { PortfolioReport } from '@/core/rehearsal/portfolio';
import type { Trend } from '../analysis/task';
import type { Queryable } from './queryable';
import { maybeOne } from './queryable';

/** By the id of the segment and the revision that was counted: `seg_1 4`. A segment that was changed since has no answer here. */
export type BySegment<T> = Readonly<Record<string, T>>;
export const segmentKey = ({ id, revision }: { readonly id: string; readonly revision: number }): string => `${id} ${revision}`;

export interface LastAnswers {
  sizes: BySegment<{ readonly people: number; readonly of: number }>;
  trends: BySegment<Trend['trend']>;
  portfolio: PortfolioReport;
}

/** Keeps what a list said, in place of what it said before. */
export async function keepAnswer<Q extends keyof LastAnswers>(
  db: Queryable,
  siteId: number,
  { question, answer }: { readonly question: Q; readonly answer: LastAnswers[Q] },
): Promise<void> {
  await db.query(
    `insert into last_answer (site_id, question, answer) values ($1, $2, $3)
     on conflict (site_id, question) do update set answer = excluded.answer, at = now()`,
    [siteId, question, JSON.stringify(answer)],
  );
}

/** What the list last said; undefined before it has said anything. */
export async function lastAnswer<Q extends keyof LastAnswers>(
  db: Queryable,
  siteId: number,
  question: Q,
): Promise<LastAnswers[Q] | undefined> {
  const row = await maybeOne<{ answer: LastAnswers[Q] }>(db, `select answer from last_answer where site_id = $1 and question = $2`, [
    siteId,
    question,
  ]);
  return row?.answer;
}
