import type { Queryable } from './queryable';
import { maybeOne, NotExactlyOneRow, one } from './queryable';
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
