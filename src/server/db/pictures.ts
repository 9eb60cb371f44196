import type { Queryable } from './queryable';
import { many, maybeOne, one } from './queryable';

export interface Picture {
  readonly hash: string;
  /** As the file was called. */
  readonly name: string;
  readonly width: number;
  readonly height: number;
  /** In bytes, as it is served. */
  readonly size: number;
}

/** Pictures of a site, newest first. */
export async function listPictures(db: Queryable, siteId: number, limit = 200): Promise<Picture[]> {
  return many<Picture & Record<string, unknown>>(
    db,
    `select hash, name, width, height, length(bytes) as size from picture where site_id = $1 order by uploaded_at desc, hash limit $2`,
    [siteId, limit],
  );
}

export const countPictures = async (db: Queryable, siteId: number): Promise<number> =>
  (await one<{ pictures: number }>(db, `select count(*)::int as pictures from picture where site_id = $1`, [siteId])).pictures;

/** The same picture again changes nothing but that it is the newest. */
export async function keepPicture(
  db: Queryable,
  siteId: number,
  { bytes, ...picture }: Omit<Picture, 'size'> & { readonly bytes: Buffer },
): Promise<void> {
  await db.query(
    `insert into picture (site_id, hash, name, width, height, bytes) values ($1, $2, $3, $4, $5, $6)
     on conflict (site_id, hash) do update set uploaded_at = now()`,
    [siteId, picture.hash, picture.name, picture.width, picture.height, bytes],
  );
}

export async function findPicture(db: Queryable, siteId: number, hash: string): Promise<Buffer | undefined> {
  return (await maybeOne<{ bytes: Buffer }>(db, `select bytes from picture where site_id = $1 and hash = $2`, [siteId, hash]))?.bytes;
}
