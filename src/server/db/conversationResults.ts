import type { Queryable } from './queryable';
import { many, one } from './queryable';

/** What came of conversations that wanted a person. Waiting is from the first line to a person until the first answer, in ms. */
export interface ConversationResults {
  readonly wanted: number;
  readonly answered: number;
  /** Nobody answered, and they wait no longer, or have waited for a day. */
  readonly missed: number;
  readonly medianWaitMs: number | null;
  /** Nine in ten waited no longer. */
  readonly mostWaitMs: number | null;
  readonly byPerson: readonly {
    readonly name: string;
    readonly conversations: number;
    readonly lines: number;
    readonly medianWaitMs: number | null;
  }[];
}

const wait = (share: number): string =>
  `(percentile_cont(${share}) within group (order by extract(epoch from answered_at - asked_at)) filter (where answered_at is not null) * 1000)::float8`;

/** Of a campaign or of all, begun from `from` until `to`, UTC ms. `now`: UTC ms. */
export async function conversationResults(
  db: Queryable,
  siteId: number,
  { campaign, from = 0, to, now }: { campaign?: string | undefined; from?: number | undefined; to?: number | undefined; now: number },
): Promise<ConversationResults> {
  const chosen = `thread.site_id = $1 and asked_at is not null and ($2::text is null or campaign_id = $2) and begun_at >= at_ms($3) and begun_at < at_ms($4)`;
  const values = [siteId, campaign ?? null, from, to ?? now + 1];
  const all = await one<Omit<ConversationResults, 'byPerson'> & Record<string, unknown>>(
    db,
    `select count(*)::int as wanted, count(answered_at)::int as answered,
            count(*) filter (where answered_at is null and (waits_since is null or waits_since < at_ms($5) - interval '1 day'))::int as missed,
            ${wait(0.5)} as "medianWaitMs", ${wait(0.9)} as "mostWaitMs" from thread where ${chosen}`,
    [...values, now],
  );
  const byPerson = await many<ConversationResults['byPerson'][number] & Record<string, unknown>>(
    db,
    `with wrote as (
       select line.member_id, thread.id, count(*)::int as lines,
              case when min(line.seq) = min(first.seq) then extract(epoch from thread.answered_at - thread.asked_at) * 1000 end as wait
         from thread join line on line.site_id = $1 and line.thread_id = thread.id and line.by = 'team' and line.member_id is not null
         cross join lateral (select min(seq) as seq from line earliest where earliest.site_id = $1 and earliest.thread_id = thread.id and earliest.by = 'team') as first
        where ${chosen} group by line.member_id, thread.id, thread.answered_at, thread.asked_at)
     select member.name, count(*)::int as conversations, sum(lines)::int as lines,
            (percentile_cont(0.5) within group (order by wait) filter (where wait is not null))::float8 as "medianWaitMs"
       from wrote join member on member.id = member_id group by member.id, member.name order by 2 desc, 1`,
    values,
  );
  return { ...all, byPerson };
}
