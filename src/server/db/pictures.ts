import type { PictureSizes } from '@/core/messages/pictures';
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
    `select hash, name, width, height, length(bytes) as size from picture where site_id = $1 and not is_size order by uploaded_at desc, hash limit $2`,
    [siteId, limit],
  );
}

export const countPictures = async (db: Queryable, siteId: number): Promise<number> =>
  (await one<{ pictures: number }>(db, `select count(*)::int as pictures from picture where site_id = $1 and not is_size`, [siteId]))
    .pictures;

/** A picture as it is kept: the bytes that are served, and smaller versions of it, the smallest first. */
export interface EncodedPicture extends Omit<Picture, 'name' | 'size'> {
  readonly bytes: Buffer;
  readonly sizes: readonly Omit<EncodedPicture, 'sizes'>[];
}

/** The same picture again changes nothing but that it is the newest. Runs in a transaction. */
export async function keepPicture(
  tx: Queryable,
  siteId: number,
  { sizes, ...picture }: EncodedPicture & { readonly name: string },
): Promise<void> {
  const keep = async (
    { hash, name, width, height, bytes }: Omit<typeof picture, 'sizes'>,
    isSize: boolean,
    smaller: object[],
  ): Promise<void> => {
    await tx.query(
      `insert into picture (site_id, hash, name, width, height, bytes, sizes, is_size) values ($1, $2, $3, $4, $5, $6, $7, $8)
       on conflict (site_id, hash) do update
         set uploaded_at = now(), is_size = picture.is_size and excluded.is_size,
             sizes = case when excluded.is_size then picture.sizes else excluded.sizes end`,
      [siteId, hash, name, width, height, bytes, JSON.stringify(smaller), isSize],
    );
  };
  for (const size of sizes) await keep({ ...size, name: picture.name }, true, []);
  await keep(
    picture,
    false,
    sizes.map(({ hash, width }) => ({ hash, width })),
  );
}

/** Smaller versions of each of these pictures that has any, by its hash. */
export async function findPictureSizes(
  db: Queryable,
  siteId: number,
  hashes: readonly string[],
): Promise<ReadonlyMap<string, PictureSizes>> {
  if (hashes.length === 0) return new Map();
  const rows = await many<{ hash: string; sizes: PictureSizes }>(
    db,
    `select hash, sizes from picture where site_id = $1 and hash = any($2::text[])`,
    [siteId, hashes],
  );
  return new Map(rows.map(({ hash, sizes }) => [hash, sizes]));
}

export async function findPictureInfo(db: Queryable, siteId: number, hash: string): Promise<Pick<Picture, 'width' | 'height'> | undefined> {
  return maybeOne<Pick<Picture, 'width' | 'height'> & Record<string, unknown>>(
    db,
    `select width, height from picture where site_id = $1 and hash = $2`,
    [siteId, hash],
  );
}

export async function findPicture(db: Queryable, siteId: number, hash: string): Promise<Buffer | undefined> {
  return (await maybeOne<{ bytes: Buffer }>(db, `select bytes from picture where site_id = $1 and hash = $2`, [siteId, hash]))?.bytes;
}
