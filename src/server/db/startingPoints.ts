import type { CampaignDocument } from '@/core/campaigns/campaign';
import type { StartingPoint } from '@/core/startingPoints/points';
import { orNameTaken } from './errors';
import type { Queryable } from './queryable';
import { many, one } from './queryable';

/** What the team begins campaigns from, the newest first. */
export async function listStartingPoints(db: Queryable, siteId: number): Promise<StartingPoint[]> {
  return many<StartingPoint & Record<string, unknown>>(
    db,
    `select id, use, document from starting_point where site_id = $1 order by made_at desc, id`,
    [siteId],
  );
}

export async function insertStartingPoint(
  db: Queryable,
  siteId: number,
  { id, use, document }: { id: string; use: string; document: CampaignDocument },
): Promise<void> {
  await orNameTaken(document.name, 'starting_point_name_unique', () =>
    db.query(`insert into starting_point (site_id, id, name, use, document) values ($1, $2, $3, $4, $5)`, [
      siteId,
      id,
      document.name,
      use,
      document,
    ]),
  );
}

/** @throws NotExactlyOneRow where it is not there. */
export async function deleteStartingPoint(db: Queryable, siteId: number, id: string): Promise<void> {
  await one(db, `delete from starting_point where site_id = $1 and id = $2 returning id`, [siteId, id]);
}
