import type { SegmentBody } from '@/core/people/subject';
import { writeOut } from '@/core/people/writeOut';
import type { Queryable } from '../db/queryable';
import { many } from '../db/queryable';
import { loadPageSets, loadPlaces } from '../db/vocabulary';
import { segmentBodies } from '../segments/bodies';
import type { Count } from './countByLists';
import { Statement } from './statement';
import { exprSql } from './exprSql';

/**
 * The same question as one SQL statement over the raw rows: what counting by lists is held against. SQL's own logic of
 * true, false and null is that of the rule language.
 */
export async function countBySql(db: Queryable, siteId: number, segment: SegmentBody, now: number): Promise<Count> {
  const values = await judgeBySql(db, siteId, segment, now);
  return { people: values.filter(({ holds }) => holds === true).length, unknown: values.filter(({ holds }) => holds === null).length };
}

/** By visitor's number whether a segment holds at `now`, UTC ms; null: unknown. `only`: these visitors. */
export async function judgeBySql(
  db: Queryable,
  siteId: number,
  { people, lookback }: SegmentBody,
  now: number,
  { only }: { only?: readonly number[] } = {},
): Promise<{ visitor: number; holds: boolean | null }[]> {
  const [sets, places, segments] = [await loadPageSets(db, siteId), await loadPlaces(db, siteId), await segmentBodies(db, siteId)];
  const statement = new Statement({
    siteId,
    now,
    lookback,
    sets,
    places,
    pages: await distinctPages(db, siteId, only),
    zones: await distinctZones(db, siteId, only),
    locations: await distinctLocations(db, siteId, only),
  });
  const holds = exprSql(writeOut(people, segments, []), statement);
  return many<{ visitor: number; holds: boolean | null }>(
    db,
    `select v.id as visitor, (${holds}) as holds
       from visitor v
       join lateral (select id, started_at, channel, referrer, utm, country, region, city, lat, lon, weather from visit
                      where site_id = ${statement.site} and visitor_id = v.id and started_at <= ${statement.now} order by started_at desc, id desc limit 1) cur on true
      where v.site_id = ${statement.site} and ${only ? `v.id = any(${statement.parameter(only, 'bigint[]')})` : 'true'} order by v.id`,
    statement.values,
  );
}

export interface DistinctPage {
  readonly url: string;
  readonly title: string | null;
  readonly labels: string[] | null;
  readonly printed: string | null;
}

type Only = readonly number[] | undefined;
const among = (only: Only, column: string): { where: string; values: readonly unknown[] } =>
  only ? { where: `and ${column} = any($2)`, values: [only] } : { where: '', values: [] };

async function distinctPages(db: Queryable, siteId: number, only: Only): Promise<DistinctPage[]> {
  const { where, values } = among(only, 'visitor_id');
  return many<DistinctPage & Record<string, unknown>>(
    db,
    `select distinct url, title, labels, labels::text as printed from page_view where site_id = $1 ${where}`,
    [siteId, ...values],
  );
}

async function distinctZones(db: Queryable, siteId: number, only: Only): Promise<(string | null)[]> {
  const { where, values } = among(only, 'id');
  return (
    await many<{ zone: string | null }>(db, `select distinct zone from visitor where site_id = $1 ${where}`, [siteId, ...values])
  ).map(({ zone }) => zone);
}

export interface DistinctLocation {
  readonly key: string;
  readonly country: string | null;
  readonly region: string | null;
  readonly city: string | null;
  readonly lat: number | null;
  readonly lon: number | null;
}

async function distinctLocations(db: Queryable, siteId: number, only: Only): Promise<DistinctLocation[]> {
  const { where, values } = among(only, 'visitor_id');
  return many<DistinctLocation & Record<string, unknown>>(
    db,
    `select distinct row(country, region, city, lat, lon)::text as key, country, region, city, lat, lon from visit where site_id = $1 ${where}`,
    [siteId, ...values],
  );
}
