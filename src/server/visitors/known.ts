import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { seldom } from '../db/seldom';
import { offeredNames, valuesOfVisitors } from './values';

const MOST = 30;
/** Their histories are read for it. */
const FRESH_MS = 10_000;

export interface KnownVisitor {
  readonly id: number;
  /** Their email, or the customer's id. */
  readonly name: string;
  readonly values: Readonly<Record<string, string>>;
}

/** Known visitors of whom something came last, with what a message could put in of them at an instant (UTC ms); not of this very second. */
export const listKnown = (db: Queryable, siteId: number, now: number): Promise<KnownVisitor[]> =>
  seldom(db, `known ${siteId}`, () => findKnown(db, siteId, now), { freshMs: FRESH_MS });

async function findKnown(db: Queryable, siteId: number, now: number): Promise<KnownVisitor[]> {
  const known = await many<{ id: number; name: string }>(
    db,
    `select id, coalesce(email, customer_id) as name from visitor
      where site_id = $1 and (email is not null or customer_id is not null) order by touched_at desc, id limit ${MOST}`,
    [siteId],
  );
  const { names, sets } = await offeredNames(db, siteId);
  const values = await valuesOfVisitors(db, siteId, { ids: known.map(({ id }) => id), names, sets, now });
  return known.map(({ id, name }) => ({ id, name, values: values.get(id) ?? {} }));
}
