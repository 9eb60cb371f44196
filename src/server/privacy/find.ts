import type { Queryable } from '../db/queryable';
import { many, maybeOne } from '../db/queryable';

export const FOUND_BY = ['email', 'customer', 'browser'] as const;
export type FoundBy = (typeof FOUND_BY)[number];

/** What of somebody is given out or erased. */
export interface Person {
  /** Browsers that are theirs, with all that is on record of them. */
  readonly visitors: readonly number[];
  /** In lower case: what was said of these anywhere is theirs. */
  readonly emails: readonly string[];
  /** In lower case: emails of others that were said in these browsers, too; forms of theirs are not this person's. */
  readonly others: readonly string[];
}

/** A browser that says to be somebody, without a signature. */
export interface Claim {
  readonly visitor: number;
  /** UTC ms. */
  readonly firstSeen: number;
  readonly lastSeen: number;
  readonly visits: number;
  /** Whom else it says to be: their emails, in lower case, and customer ids. */
  readonly also: readonly string[];
}

/** Somebody by what is sure, and the browsers that claim to be theirs, each of them apart. */
export interface Found extends Person {
  readonly claims: readonly Claim[];
}

const MOST_ROUNDS = 10;
const MOST_CLAIMS = 200;

/** SQL conditions on a change: an email was said; and what was said, in lower case. */
export const EMAIL_SAID = `kind = 'identity' and key = 'email' and value is not null`;
const ID_SAID = `kind = 'identity' and key = 'id' and value is not null`;
export const SAID = `lower(value #>> '{}')`;

/**
 * Somebody by an email, a customer id or a browser's id: the browsers and emails that signatures lead to from there, and the browsers that say so without
 * one. A claim leads nowhere else: two emails that one browser said are two people.
 */
export async function findPerson(db: Queryable, siteId: number, { by, value }: { by: FoundBy; value: string }): Promise<Found> {
  const wanted = value.trim();
  const list = async (sql: string, values: readonly unknown[]): Promise<number[]> =>
    (await many<{ id: number }>(db, sql, [siteId, ...values])).map(({ id }) => id);
  const saidBy = (condition: string, sure: string) =>
    `select distinct visitor_id as id from visitor_change where site_id = $1 and ${condition} and ${sure}`;
  const ofId = `${ID_SAID} and ${SAID} = lower($2) and value #>> '{}' = $2`;
  let visitors =
    by === 'browser'
      ? await list(`select id from visitor where site_id = $1 and browser_id::text = lower($2)`, [wanted])
      : by === 'customer'
        ? await list(saidBy(ofId, 'is_signed'), [wanted])
        : [];
  let emails = by === 'email' ? [wanted.toLowerCase()] : [];
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const known = visitors.length + emails.length;
    emails = (
      await many<{ email: string }>(
        db,
        `select ${SAID} as email from visitor_change where site_id = $1 and visitor_id = any($2) and ${EMAIL_SAID} and is_signed union select unnest($3::text[])`,
        [siteId, visitors, emails],
      )
    ).map(({ email }) => email);
    visitors = await list(
      `select visitor_id as id from visitor_change where site_id = $1 and ${EMAIL_SAID} and is_signed and ${SAID} = any($3)
       union select other.visitor_id from visitor_change own join visitor_change other on other.site_id = $1 and other.kind = 'identity' and other.key = 'id'
               and other.is_signed and lower(other.value #>> '{}') = lower(own.value #>> '{}') and other.value = own.value
              where own.site_id = $1 and own.visitor_id = any($2) and own.kind = 'identity' and own.key = 'id' and own.is_signed
       union select unnest($2::int[])`,
      [visitors, emails],
    );
    if (visitors.length + emails.length === known) break;
  }
  const claimed = by === 'customer' ? await list(saidBy(ofId, 'not is_signed'), [wanted]) : [];
  const apart = [...(await sayingsOf(db, siteId, by === 'email' ? [] : [...visitors, ...claimed])).values()];
  // A browser that has said one email all along is one person's, who may have others.
  emails = [...new Set([...emails, ...apart.filter(isOnePerson).flatMap((said) => said.emails)])];
  const claiming = await list(
    `select id from (
       select visitor_id as id from visitor_change where site_id = $1 and ${EMAIL_SAID} and ${SAID} = any($2)
       union select id from visitor where site_id = $1 and lower(email) = any($2)
       union select visitor_id from lead where site_id = $1 and lower(email) = any($2) and visitor_id is not null
       union select visitor_id from thread where site_id = $1 and lower(copy_to) = any($2)
       union select unnest($4::int[])
     ) as said where not id = any($3) order by id desc limit ${MOST_CLAIMS}`,
    [emails, visitors, claimed],
  );
  const said = await sayingsOf(db, siteId, claiming);
  const seen = await many<{ visitor: number; firstSeen: number; lastSeen: number; visits: number }>(
    db,
    `select id as visitor, ms(first_seen)::float8 as "firstSeen", ms(last_seen)::float8 as "lastSeen",
            (select count(*)::int from visit where visit.site_id = $1 and visit.visitor_id = visitor.id) as visits
       from visitor where site_id = $1 and id = any($2) order by last_seen desc, id`,
    [siteId, claiming],
  );
  const claims = seen.map((one) => {
    const { emails: own, ids } = said.get(one.visitor) ?? NOTHING_SAID;
    const other = own.filter((email) => !emails.includes(email));
    // One email and one id in a browser are one person's.
    const also = [...other, ...(ids.length > 1 ? ids.filter((id) => by !== 'customer' || id !== wanted) : [])];
    return { ...one, also };
  });
  return { visitors, emails, others: [], claims };
}

interface Said {
  /** In lower case. */
  readonly emails: readonly string[];
  readonly ids: readonly string[];
}

const NOTHING_SAID: Said = { emails: [], ids: [] };
const isOnePerson = ({ emails, ids }: Said): boolean => emails.length <= 1 && ids.length <= 1;

/** Whom browsers say to be in any way, forms and copies of conversations among them. */
async function sayingsOf(db: Queryable, siteId: number, visitors: readonly number[]): Promise<Map<number, Said>> {
  const rows = await many<Said & { visitor: number }>(
    db,
    `select visitor, coalesce(array_agg(distinct email) filter (where email is not null), '{}') as emails, coalesce(array_agg(distinct id) filter (where id is not null), '{}') as ids
       from (
         select visitor_id as visitor, lower(email) as email, null as id from lead where lead.site_id = $1 and lead.visitor_id = any($2)
         union all select visitor_id, lower(copy_to), null from thread where thread.site_id = $1 and thread.visitor_id = any($2)
         union all select id, lower(email), customer_id from visitor where site_id = $1 and id = any($2)
         union all select visitor_id, case key when 'email' then ${SAID} end, case key when 'id' then value #>> '{}' end from visitor_change
                    where site_id = $1 and visitor_id = any($2) and (${EMAIL_SAID} or ${ID_SAID})
       ) as said group by 1`,
    [siteId, visitors],
  );
  return new Map(rows.map(({ visitor, ...said }) => [visitor, said]));
}

/** Who is taken together: what is sure, and of the claims those that are chosen; where nothing is chosen those that say to be nobody else. */
export function personOf({ visitors, emails, claims }: Found, chosen?: readonly number[]): Person {
  const taken = claims.filter(({ visitor, also }) => (chosen ? chosen.includes(visitor) : also.length === 0));
  return { visitors: [...visitors, ...taken.map(({ visitor }) => visitor)], emails, others: taken.flatMap(({ also }) => also) };
}

/** The id that a visitor's browser goes by. */
export const browserOf = async (db: Queryable, siteId: number, visitor: number): Promise<string | undefined> =>
  (
    await maybeOne<{ browser: string }>(db, `select browser_id::text as browser from visitor where site_id = $1 and id = $2`, [
      siteId,
      visitor,
    ])
  )?.browser;
