import { z } from 'zod';
import type { MemberChoice, MemberColumn } from '@/core/people/memberColumns';
import { MEMBER_COLUMNS } from '@/core/people/memberColumns';
import type { SegmentBody } from '@/core/people/subject';
import { emailHash } from '../connections/kinds/members';
import { judgeBySql } from '../counting/countBySql';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';

export const memberColumnsSchema = z.array(z.enum(MEMBER_COLUMNS)).min(1).max(MEMBER_COLUMNS.length);

export type SegmentMember = Readonly<Record<MemberColumn, string>>;

const AT_ONCE = 5_000;

/** Whoever is in a segment at `now`, UTC ms, by their number; however many there are, only some are in memory. */
export async function* segmentMembers(
  db: Queryable,
  siteId: number,
  { segment, now, who }: { segment: SegmentBody; now: number; who: MemberChoice },
): AsyncGenerator<SegmentMember> {
  for (let after = 0; ;) {
    const visitors = await many<{ id: number }>(
      db,
      `select visitor.id from visitor where site_id = $1 and id > $2 and ($3 = 'all' or email is not null) order by id limit ${AT_ONCE}`,
      [siteId, after, who],
    );
    if (visitors.length === 0) return;
    const ids = visitors.map(({ id }) => id);
    const inIt = (await judgeBySql(db, siteId, segment, now, { only: ids })).flatMap(({ visitor, holds }) =>
      holds === true ? [visitor] : [],
    );
    for (const { email, agreed, ...rest } of await describe(db, siteId, inIt))
      if (who !== 'agreed' || agreed)
        yield { ...rest, email: email ?? '', email_sha256: email ? emailHash(email) : '', agreed: agreed ? 'yes' : 'no' };
    after = ids.at(-1) ?? after;
  }
}

type Described = Omit<SegmentMember, 'email' | 'email_sha256' | 'agreed'> & { readonly email: string | null; readonly agreed: boolean };
const ISO = `'YYYY-MM-DD"T"HH24:MI:SS"Z"'`;

const describe = (db: Queryable, siteId: number, ids: readonly number[]): Promise<Described[]> =>
  many<Described & Record<string, unknown>>(
    db,
    `select visitor.id::text as visitor, email, coalesce(customer_id, '') as customer, browser_id::text as browser, came.*,
            email is not null and exists (select from lead where lead.site_id = $1 and lower(lead.email) = lower(visitor.email) and consent <> '[]' and withdrawn_at is null) as agreed
       from visitor cross join lateral (
            select to_char(min(started_at) at time zone 'UTC', ${ISO}) as first_visit, to_char(max(started_at) at time zone 'UTC', ${ISO}) as last_visit,
                   count(*)::text as visits from visit where visit.site_id = $1 and visitor_id = visitor.id) as came
      where site_id = $1 and id = any($2) order by id`,
    [siteId, ids],
  );
