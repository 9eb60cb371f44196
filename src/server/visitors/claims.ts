import type { Database } from '../db/directory';
import { withTransaction } from '../db/pool';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { may, setWhoTheyAre } from '../db/saying';
import { madeAnew } from '../privacy/person';

/** Who a browser says to be. */
export interface Saying {
  readonly by: 'email' | 'customer';
  readonly value: string;
  /** When it was said last, UTC ms. */
  readonly at: number;
  /** Without a signature of the site's server: anybody can have said it. */
  readonly isClaim: boolean;
}

const KEYS = { email: 'email', customer: 'id' } as const;

/** Whom a browser has said to be, what was said last first: more than one where several people use it, or somebody mistyped. */
export async function listSayings(db: Queryable, siteId: number, visitor: number): Promise<Saying[]> {
  const rows = await many<{ by: Saying['by']; value: string; at: number; isSigned: boolean }>(
    db,
    `select case key when 'id' then 'customer' else key end as by, (array_agg(value #>> '{}' order by at desc))[1] as value, ms(max(at))::float8 as at, bool_or(is_signed) as "isSigned"
       from visitor_change where site_id = $1 and visitor_id = $2 and kind = 'identity' and key in ('email', 'id') and value is not null
      group by key, case key when 'email' then lower(value #>> '{}') else value #>> '{}' end order by max(at) desc, 1, 2 limit 50`,
    [siteId, visitor],
  );
  return rows.map(({ isSigned, ...said }) => ({ ...said, isClaim: !may('join', isSigned) }));
}

/**
 * Takes a claim back: the browser is not who it said to be. What was said together with it (traits) goes too; forms that it sent stay, as somebody did send
 * them. What was signed cannot be taken back here. Gives whether there was such a claim.
 */
export async function undoClaim(
  db: Database | Queryable,
  siteId: number,
  { visitor, by, value }: { visitor: number; by: Saying['by']; value: string },
): Promise<boolean> {
  return withTransaction(db, async (tx) => {
    const gone = await many<{ day: string }>(
      tx,
      `delete from visitor_change where site_id = $1 and visitor_id = $2 and id in (
         select id from visitor_change where site_id = $1 and visitor_id = $2 and kind = 'identity' and key = $3 and not is_signed
            and case key when 'email' then lower(value #>> '{}') = lower($4) else value #>> '{}' = $4 end)
       returning (at at time zone 'UTC')::date::text as day`,
      [siteId, visitor, KEYS[by], value],
    );
    if (gone.length === 0) return false;
    await setWhoTheyAre(tx, siteId, [visitor]);
    await tx.query(`update visitor set touched_at = clock_timestamp() where site_id = $1 and id = $2`, [siteId, visitor]);
    await madeAnew(
      tx,
      siteId,
      gone.map(({ day }) => day),
    );
    return true;
  });
}
