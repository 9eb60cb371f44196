import { withPicture } from '@/core/messages/pictures';
import { listCampaigns } from '../db/campaigns';
import { findPictureInfo } from '../db/pictures';
import { NotExactlyOneRow } from '../db/queryable';
import type { Queryable } from '../db/queryable';
import { findSite } from '../db/sites';
import { pictureUrl } from './url';

/** Puts one picture in another's place in every campaign and in the brand, in a transaction. How many campaigns were changed; releases that are out stay as they are. */
export async function replacePicture(tx: Queryable, siteId: number, { from, to }: { from: string; to: string }): Promise<number> {
  const [site, picture] = [await findSite(tx, siteId), await findPictureInfo(tx, siteId, to)];
  if (!site || !picture) throw new NotExactlyOneRow(0);
  const next = { url: pictureUrl(site.key, to), width: picture.width, height: picture.height };
  await tx.query(`select from campaign where site_id = $1 order by id for update`, [siteId]);
  let changed = 0;
  for (const { id, flow } of await listCampaigns(tx, siteId)) {
    const replaced = withPicture(flow, from, next);
    if (replaced === flow) continue;
    changed++;
    await tx.query(`update campaign set flow = $3, revision = revision + 1, updated_at = now() where site_id = $1 and id = $2`, [
      siteId,
      id,
      replaced,
    ]);
  }
  const brand = withPicture(site.brand, from, next);
  if (brand !== site.brand) await tx.query(`update site set brand = $2 where id = $1`, [siteId, brand]);
  return changed;
}
