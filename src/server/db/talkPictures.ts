import { randomUUID } from 'node:crypto';
import type { Queryable } from './queryable';
import { asUuid, maybeOne, one } from './queryable';

export interface TalkPicture {
  readonly width: number;
  readonly height: number;
  /** WebP. */
  readonly bytes: Buffer;
}

/** More pictures an hour nobody looks at. */
const MOST_AN_HOUR = 30;

/** Whose browser it is, and whether they may send one more; undefined where nobody is known by it. */
export async function maySendPicture(
  db: Queryable,
  siteId: number,
  browser: string,
): Promise<{ visitor: number; may: boolean } | undefined> {
  return maybeOne<{ visitor: number; may: boolean }>(
    db,
    `select visitor.id as visitor,
            (select count(*) from line_picture where line_picture.site_id = $1 and visitor_id = visitor.id and at > now() - interval '1 hour') < $3 as may
       from visitor where site_id = $1 and browser_id = $2`,
    [siteId, browser, MOST_AN_HOUR],
  );
}

/** Keeps a picture for a line that is to come; gives its id. */
export async function keepTalkPicture(
  db: Queryable,
  siteId: number,
  { thread, visitor, width, height, bytes }: TalkPicture & { thread: string; visitor: number },
): Promise<string> {
  const { id } = await one<{ id: string }>(
    db,
    `insert into line_picture (site_id, id, thread_id, visitor_id, width, height, bytes) values ($1, $2, $3, $4, $5, $6, $7) returning id`,
    [siteId, randomUUID(), thread, visitor, width, height, bytes],
  );
  return id;
}

/** Whether a thread has a picture that a line may show. */
export const hasTalkPicture = async (db: Queryable, siteId: number, { thread, id }: { thread: string; id: string }): Promise<boolean> =>
  (await maybeOne(db, `select 1 as found from line_picture where site_id = $1 and id = $2 and thread_id = $3`, [siteId, id, thread])) !==
  undefined;

/** A picture of a thread; with `browser` only of that browser's visitor. */
export const findTalkPicture = (
  db: Queryable,
  siteId: number,
  { thread, id, browser }: { thread: string; id: string; browser?: string },
): Promise<{ bytes: Buffer } | undefined> =>
  maybeOne<{ bytes: Buffer }>(
    db,
    `select bytes from line_picture join visitor on visitor.site_id = $1 and visitor.id = visitor_id
      where line_picture.site_id = $1 and line_picture.id = ${asUuid('$2')} and thread_id = ${asUuid('$3')} and ($4::uuid is null or browser_id = $4)`,
    [siteId, id, thread, browser ?? null],
  );

/** Pictures that no line came to show. */
export async function sweepTalkPictures(db: Queryable): Promise<number> {
  const { rowCount } = await db.query(
    `delete from line_picture where at < now() - interval '1 day'
        and not exists (select from line where line.site_id = line_picture.site_id and line.thread_id = line_picture.thread_id and line.picture = line_picture.id)`,
  );
  return rowCount ?? 0;
}
