import type { Queryable } from './queryable';
import { many, maybeOne, NotExactlyOneRow, one } from './queryable';
import { orNameTaken } from './errors';

/** What is edited in the studio: tables of the same name, with `site_id`, `id`, `name` and `revision`. */
export const EDITED_KINDS = ['segment', 'campaign', 'place', 'page_set', 'goal'] as const;
export type EditedKind = (typeof EDITED_KINDS)[number];

/** Deletes one row, and keeps it whole for a while. @throws NotExactlyOneRow where it is not there. */
export async function moveToTrash(db: Queryable, kind: EditedKind, siteId: number, id: string): Promise<void> {
  await one(
    db,
    `with gone as (delete from ${kind} where site_id = $1 and id = $2 returning *)
     insert into trash (site_id, kind, id, row) select site_id, $3, id, to_jsonb(gone) from gone
     on conflict (site_id, kind, id) do update set row = excluded.row, deleted_at = now()
     returning id`,
    [siteId, id, kind],
  );
}

/** For so long what was deleted is kept; housekeeping holds to it. */
export const KEPT_DAYS = 30;
const MOST_LISTED = 500;

export interface Trashed {
  readonly kind: EditedKind;
  readonly id: string;
  readonly name: string;
  readonly at: Date;
  /** When it is gone for good. */
  readonly goesAt: Date;
}

/** What is kept of what was deleted, the latest first. */
export const listTrash = (db: Queryable, siteId: number): Promise<Trashed[]> =>
  many<Trashed & Record<string, unknown>>(
    db,
    `select kind, id, row->>'name' as name, deleted_at as at, deleted_at + make_interval(days => ${KEPT_DAYS}) as "goesAt"
       from trash where site_id = $1 and deleted_at > now() - make_interval(days => ${KEPT_DAYS}) order by deleted_at desc, id limit ${MOST_LISTED}`,
    [siteId],
  );

/** Brings a deleted row back as it was, under its id; in a column that was added since it has what new rows have. @throws NameTaken, and NotExactlyOneRow where it is no longer kept. */
export async function bringBack(db: Queryable, kind: EditedKind, siteId: number, id: string): Promise<void> {
  const kept = await maybeOne<{ name: string; columns: string }>(
    db,
    `select row->>'name' as name, (select string_agg(quote_ident(attname), ', ' order by attnum) from pg_attribute
                                    where attrelid = $2::text::regclass and attnum > 0 and not attisdropped and row ? attname) as columns
       from trash where site_id = $1 and kind = $2 and id = $3`,
    [siteId, kind, id],
  );
  if (!kept) throw new NotExactlyOneRow(0);
  await orNameTaken(kept.name, `${kind}_name_unique`, () =>
    one(
      db,
      `with kept as (delete from trash where site_id = $1 and kind = $2 and id = $3 returning row)
       insert into ${kind} (${kept.columns}) select ${kept.columns} from kept, jsonb_populate_record(null::${kind}, row) returning id`,
      [siteId, kind, id],
    ),
  );
}
