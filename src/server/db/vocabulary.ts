import type { Places, PlaceShape } from '@/core/geo/place';
import type { PageSets, PlainPattern } from '@/core/pages/pattern';
import type { Queryable } from './queryable';
import { many } from './queryable';

export async function loadPlaces(db: Queryable, siteId: number): Promise<Places> {
  const rows = await many<{ id: string; name: string; shape: PlaceShape }>(
    db,
    `select id, name, shape from place where site_id = $1 order by id`,
    [siteId],
  );
  return Object.fromEntries(rows.map(({ id, name, shape }) => [id, { name, shape }]));
}

export async function loadPageSets(db: Queryable, siteId: number): Promise<PageSets> {
  const rows = await many<{ id: string; patterns: PlainPattern[] }>(
    db,
    `select id, patterns from page_set where site_id = $1 order by id`,
    [siteId],
  );
  return Object.fromEntries(rows.map(({ id, patterns }) => [id, patterns]));
}

export async function insertPlace(
  db: Queryable,
  siteId: number,
  { id, name, shape }: { id: string; name: string; shape: PlaceShape },
): Promise<void> {
  await db.query(`insert into place (site_id, id, name, shape) values ($1, $2, $3, $4)`, [siteId, id, name, shape]);
}

export async function insertPageSet(
  db: Queryable,
  siteId: number,
  { id, name, patterns }: { id: string; name: string; patterns: readonly PlainPattern[] },
): Promise<void> {
  await db.query(`insert into page_set (site_id, id, name, patterns) values ($1, $2, $3, $4)`, [
    siteId,
    id,
    name,
    JSON.stringify(patterns),
  ]);
}
