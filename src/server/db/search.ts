import type { Queryable } from './queryable';
import { many } from './queryable';

export interface Hit {
  readonly kind: 'segment' | 'campaign' | 'page set' | 'goal' | 'place' | 'visitor' | 'lead' | 'page';
  /** An id; of a page its path. */
  readonly id: string;
  readonly name: string;
  readonly note: string;
}

const MOST_OF_A_KIND = 6;

const PEOPLE = [
  `select 'visitor' as kind, id::text, coalesce(email, customer_id, 'Visitor ' || id) as name, 'last seen ' || to_char(last_seen, 'FMDD Mon') as note
     from visitor where site_id = $1 and (id::text = $2 or strpos(lower(email), lower($2)) > 0 or lower(customer_id) = lower($2))`,
  `select 'lead' as kind, id::text, email as name, to_char(at, 'FMDD Mon') as note from lead where site_id = $1 and strpos(lower(email), lower($2)) > 0`,
];

/**
 * Everything of the site whose name contains the text, without case: segments, campaigns, page sets, goals, places, people by
 * email, customer id or number, leads by email (both only `withPeople`), pages by path. At most six of a kind, the shortest names first.
 */
export async function searchSite(db: Queryable, siteId: number, text: string, { withPeople }: { withPeople: boolean }): Promise<Hit[]> {
  const named = (kind: Hit['kind'], table: string, note: string): string =>
    `select '${kind}' as kind, id::text, name, ${note} as note from ${table} where site_id = $1 and strpos(lower(name), lower($2)) > 0`;
  const kinds = [
    named('segment', 'segment', `''`),
    named('campaign', 'campaign', 'status'),
    named('page set', 'page_set', `''`),
    named('goal', 'goal', `''`),
    named('place', 'place', `''`),
    ...(withPeople ? PEOPLE : []),
    `select 'page' as kind, path as id, path as name, count(*) || ' views in 7 days' as note
       from (select regexp_replace(split_part(split_part(url, '#', 1), '?', 1), '^https?://[^/]+', '') as path
               from page_view where site_id = $1 and at > now() - interval '7 days') as paths
      where strpos(lower(path), lower($2)) > 0 group by path`,
  ];
  const found = await Promise.all(
    kinds.map((sql) =>
      many<Hit & Record<string, unknown>>(db, `select * from (${sql}) as found order by length(name), name limit ${MOST_OF_A_KIND}`, [
        siteId,
        text,
      ]),
    ),
  );
  return found.flat();
}
