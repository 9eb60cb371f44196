import type { SegmentDocument } from '@/core/rules/schema';
import type { Queryable } from './queryable';
import { upgrade } from '@/core/rules/upgrade';
import { Outdated, orNameTaken } from './errors';
import { many, maybeOne, one } from './queryable';

export interface StoredSegment extends SegmentDocument {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly updatedAt: Date;
}

const COLUMNS = `id, name, lookback, people, version, revision, updated_at as "updatedAt"`;

/** Stored documents of an older version are brought to the newest as they are read. */
function segmentFromRow({ version, people, lookback, ...row }: SegmentRow): StoredSegment {
  return { ...row, ...(upgrade({ version, people, lookback }) as unknown as Pick<StoredSegment, 'people' | 'lookback'>) };
}
type SegmentRow = StoredSegment & { version: number } & Record<string, unknown>;

export async function listSegments(db: Queryable, siteId: number): Promise<StoredSegment[]> {
  return (await many<SegmentRow>(db, `select ${COLUMNS} from segment where site_id = $1 order by lower(name), id`, [siteId])).map(
    segmentFromRow,
  );
}

export async function findSegment(db: Queryable, siteId: number, id: string): Promise<StoredSegment | undefined> {
  const row = await maybeOne<SegmentRow>(db, `select ${COLUMNS} from segment where site_id = $1 and id = $2`, [siteId, id]);
  return row && segmentFromRow(row);
}

export interface SegmentToSave {
  readonly siteId: number;
  readonly id: string;
  readonly name: string;
  readonly lookback: number;
  readonly people: unknown;
}

export async function insertSegment(db: Queryable, { siteId, id, name, lookback, people }: SegmentToSave): Promise<StoredSegment> {
  return orNameTaken(name, 'segment_name_unique', () =>
    one<StoredSegment & Record<string, unknown>>(
      db,
      `insert into segment (site_id, id, name, lookback, people) values ($1, $2, $3, $4, $5) returning ${COLUMNS}`,
      [siteId, id, name, lookback, people],
    ),
  );
}

export async function updateSegment(
  db: Queryable,
  { siteId, id, name, lookback, people, revision }: SegmentToSave & { revision: number },
): Promise<StoredSegment> {
  const row = await orNameTaken(name, 'segment_name_unique', () =>
    maybeOne<StoredSegment & Record<string, unknown>>(
      db,
      `update segment set name = $3, lookback = $4, people = $5, revision = revision + 1, updated_at = now()
        where site_id = $1 and id = $2 and revision = $6 returning ${COLUMNS}`,
      [siteId, id, name, lookback, people, revision],
    ),
  );
  if (!row) throw new Outdated();
  return row;
}
