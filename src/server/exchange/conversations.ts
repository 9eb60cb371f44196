import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';

export const CONVERSATION_COLUMNS = [
  'begun',
  'campaign',
  'visitor',
  'email',
  'state',
  'with',
  'asked',
  'answered',
  'waited_s',
  'lines',
  'tags',
] as const;
export type ConversationRow = Readonly<Record<(typeof CONVERSATION_COLUMNS)[number], string>>;

const ISO = `'YYYY-MM-DD"T"HH24:MI:SS"Z"'`;
const iso = (column: string): string => `coalesce(to_char(${column} at time zone 'UTC', ${ISO}), '')`;
const AT_ONCE = 1_000;

/** Conversations that wanted a person, the latest first, some at a time. */
export async function* eachConversation(db: Queryable, siteId: number, campaign?: string): AsyncGenerator<ConversationRow> {
  for (let offset = 0; ; offset += AT_ONCE) {
    const rows = await many<ConversationRow & Record<string, unknown>>(
      db,
      `select ${iso('begun_at')} as begun, coalesce(campaign.name, campaign_id) as campaign, visitor_id::text as visitor, coalesce(visitor.email, '') as email, state,
              coalesce(member.name, '') as with, ${iso('asked_at')} as asked, ${iso('answered_at')} as answered,
              coalesce(round(extract(epoch from answered_at - asked_at))::text, '') as waited_s, last_seq::text as lines, array_to_string(thread.tags, ', ') as tags
         from thread join visitor on visitor.site_id = $1 and visitor.id = visitor_id
         left join campaign on campaign.site_id = $1 and campaign.id = campaign_id
         left join member on member.id = thread.member_id
        where thread.site_id = $1 and asked_at is not null and ($2::text is null or campaign_id = $2)
        order by begun_at desc, thread.id limit ${AT_ONCE} offset $3`,
      [siteId, campaign ?? null, offset],
    );
    yield* rows;
    if (rows.length < AT_ONCE) return;
  }
}
