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

export async function judgeBySql(
  db: Queryable,
  siteId: number,
  { people, lookback }: SegmentBody,
  now: number,
): Promise<{ visitor: number; holds: boolean | null }[]> {
  const [sets, places, segments] = [await loadPageSets(db, siteId), await loadPlaces(db, siteId), await segmentBodies(db, siteId)];
  const statement = new Statement({
    siteId,
    now,
    lookback,
    sets,
    places,
    pages: await distinctPages(db, siteId),
    zones: await distinctZones(db, siteId),
    locations: await distinctLocations(db, siteId),
  });
  const holds = exprSql(writeOut(people, segments, []), statement);
  return many<{ visitor: number; holds: boolean | null }>(
    db,
    `select v.id as visitor, (${holds}) as holds
       from visitor v
       join lateral (select id, started_at, channel, referrer, utm, country, region, city, lat, lon, weather from visit
                      where site_id = ${statement.site} and visitor_id = v.id and started_at <= ${statement.now} order by started_at desc, id desc limit 1) cur on true
      where v.site_id = ${statement.site} order by v.id`,
    statement.values,
  );
}

export interface DistinctPage {
  readonly url: string;
  readonly title: string | null;
  readonly labels: string[] | null;
  readonly printed: string | null;
}

async function distinctPages(db: Queryable, siteId: number): Promise<DistinctPage[]> {
  return many<DistinctPage & Record<string, unknown>>(
    db,
    `select distinct url, title, labels, labels::text as printed from page_view where site_id = $1`,
    [siteId],
  );
}

async function distinctZones(db: Queryable, siteId: number): Promise<(string | null)[]> {
  return (await many<{ zone: string | null }>(db, `select distinct zone from visitor where site_id = $1`, [siteId])).map(
    ({ zone }) => zone,
  );
}

export interface DistinctLocation {
  readonly key: string;
  readonly country: string | null;
  readonly region: string | null;
  readonly city: string | null;
  readonly lat: number | null;
  readonly lon: number | null;
}

async function distinctLocations(db: Queryable, siteId: number): Promise<DistinctLocation[]> {
  return many<DistinctLocation & Record<string, unknown>>(
    db,
    `select distinct row(country, region, city, lat, lon)::text as key, country, region, city, lat, lon from visit where site_id = $1`,
    [siteId],
  );
}
