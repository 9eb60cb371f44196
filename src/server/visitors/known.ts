import { visitorAt } from '@/core/history/record';
import { valuesOf } from '@/core/messages/values';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { loadVisitors } from '../db/visitors';

const MOST = 30;

export interface KnownVisitor {
  readonly id: number;
  /** Their email, or the customer's id. */
  readonly name: string;
  readonly values: Readonly<Record<string, string>>;
}

/** Known visitors of whom something came last, with what a message could put in of them at an instant (UTC ms). */
export async function listKnown(db: Queryable, siteId: number, now: number): Promise<KnownVisitor[]> {
  const known = await many<{ id: number; name: string }>(
    db,
    `select id, coalesce(email, customer_id) as name from visitor
      where site_id = $1 and (email is not null or customer_id is not null) order by touched_at desc, id limit ${MOST}`,
    [siteId],
  );
  const stored = await loadVisitors(
    db,
    siteId,
    known.map(({ id }) => id),
    { withViews: false },
  );
  const records = new Map(stored.map(({ id, record }) => [id, record]));
  return known.map(({ id, name }) => {
    const record = records.get(id);
    const visitor = record && visitorAt(record, now);
    const location = visitor?.location ?? record?.visits.at(-1)?.location;
    return { id, name, values: visitor ? valuesOf({ traits: visitor.traits, ...(location ? { location } : {}) }) : {} };
  });
}
