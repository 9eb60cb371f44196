import { visitorAt } from '@/core/history/record';
import { keyOf } from '@/core/messages/merge';
import { valueNames, valuesOf } from '@/core/messages/values';
import type { PageSets } from '@/core/pages/pattern';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { seldom } from '../db/seldom';
import { loadVisitors } from '../db/visitors';
import { pageSets } from '../db/vocabulary';

export interface OfferedValue {
  /** As it is written in a text. */
  readonly name: string;
  /** Visitors among the latest who have it. */
  readonly have: number;
  readonly of: number;
}

/** Visitors of whom something came last: enough to say how many have a value. */
const ASKED = 200;
const FRESH_MS = 60_000;

/** Events and their properties that were met lately, the most frequent first. */
const PROPS = `select name, key as prop
  from (select name, props from event where site_id = $1 order by at desc limit 2000) as recent, jsonb_object_keys(props) as key
 group by 1, 2 order by count(*) desc, 1, 2 limit 40`;

/** What the site's texts could say of a visitor: the names as written, and the page sets behind them by the keys of their names. */
export async function offeredNames(db: Queryable, siteId: number): Promise<{ names: string[]; sets: PageSets }> {
  const list = await pageSets.list(db, siteId);
  const traits = await many<{ key: string }>(
    db,
    `select key from visitor_change where site_id = $1 and kind = 'trait' group by 1 order by count(*) desc, 1 limit 60`,
    [siteId],
  );
  const events = await many<{ name: string; prop: string }>(db, PROPS, [siteId]);
  return {
    names: valueNames({ traits: traits.map(({ key }) => key), sets: list.map(({ name }) => name), events }),
    sets: Object.fromEntries(list.map(({ name, patterns }) => [keyOf(name), patterns])),
  };
}

/** What of these a visitor has, by the keys of the names; only for those that are on record. */
export async function valuesOfVisitors(
  db: Queryable,
  siteId: number,
  { ids, names, sets, now }: { ids: readonly number[]; names: readonly string[]; sets: PageSets; now: number },
): Promise<Map<number, Record<string, string>>> {
  const wanted = names.map(keyOf);
  const stored = await loadVisitors(db, siteId, ids, { most: 300 });
  return new Map(
    stored.map(({ id, record }) => {
      const visitor = visitorAt(record, now);
      const location = visitor.location ?? record.visits.at(-1)?.location;
      return [id, valuesOf({ ...visitor, ...(location ? { location } : {}) }, { wanted, now, sets })];
    }),
  );
}

/** Every value that a text could put in, with how many of the latest visitors have it; not of this very second. `now`: UTC ms. */
export const listValues = (db: Queryable, siteId: number, now: number): Promise<OfferedValue[]> =>
  seldom(db, `values ${siteId}`, () => countValues(db, siteId, now), { freshMs: FRESH_MS });

async function countValues(db: Queryable, siteId: number, now: number): Promise<OfferedValue[]> {
  const { names, sets } = await offeredNames(db, siteId);
  const latest = await many<{ id: number }>(db, `select id from visitor where site_id = $1 order by touched_at desc, id limit ${ASKED}`, [
    siteId,
  ]);
  const values = await valuesOfVisitors(db, siteId, { ids: latest.map(({ id }) => id), names, sets, now });
  return names.map((name) => {
    const key = keyOf(name);
    return { name, have: [...values.values()].filter((one) => key in one).length, of: values.size };
  });
}
