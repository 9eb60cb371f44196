import type { Queryable } from './queryable';

/** What may follow from who somebody says they are. */
export type Act = 'add' | 'takeAway' | 'read' | 'join';

/**
 * The one rule of what a claim may do: an email or id that no signature of the site's server came with, so that anybody can have said it. It adds to what
 * is known; it takes nothing away that somebody else gave, shows nothing of them, and makes nobody one with them.
 */
const CLAIM_MAY: Readonly<Record<Act, boolean>> = { add: true, takeAway: false, read: false, join: false };

/** SQL: whether what a visitor (by its alias) says they are may do that. */
export const mayBy = (act: Act, said: 'email' | 'customer', visitor = 'visitor'): string =>
  CLAIM_MAY[act] ? 'true' : `${visitor}.${said}_signed`;

/** Whether an email or id that was said so may do that. */
export const may = (act: Act, isSigned: boolean): boolean => isSigned || CLAIM_MAY[act];

/** Who visitors are is what was said last of what is signed, or else the last claim, in whatever order it came; nobody, where nothing is said any more. */
export async function setWhoTheyAre(db: Queryable, siteId: number, visitors: readonly number[]): Promise<void> {
  const last = (key: 'email' | 'id', what: string) =>
    `(select ${what} from visitor_change said where said.site_id = $1 and said.visitor_id = visitor.id and kind = 'identity' and key = '${key}' and value is not null
       order by is_signed desc, at desc, id desc limit 1)`;
  const value = `value #>> '{}'`;
  // A number of an import is nobody's word.
  const imported = `case when customer_id like 'import:%' then customer_id end`;
  await db.query(
    `update visitor set email = ${last('email', value)}, customer_id = coalesce(${last('id', value)}, ${imported}),
            email_signed = coalesce(${last('email', 'is_signed')}, false), customer_signed = coalesce(${last('id', 'is_signed')}, false)
      where site_id = $1 and id = any($2)`,
    [siteId, visitors],
  );
}
