import type { SegmentDocument } from '@/core/rules/schema';
import type { Queryable } from './queryable';
import { upgrade } from '@/core/rules/upgrade';
import { many, maybeOne, one, violates } from './queryable';

export interface StoredSegment extends SegmentDocument {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly updatedAt: Date;
}

export class NameTaken extends Error {
  readonly code = 'name.taken';
  constructor(
    readonly name_: string,
    options?: ErrorOptions,
  ) {
    super(`Something else here is already called “${name_}”`, options);
  }
}

/** Somebody saved in the meantime: what they saved must not be overwritten unseen. */
export class Outdated extends Error {
  readonly code = 'revision.outdated';
  constructor() {
    super('This was changed elsewhere since you opened it');
  }
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

export async function orNameTaken<T>(name: string, constraint: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (cause) {
    throw violates(cause, constraint) ? new NameTaken(name, { cause }) : cause;
  }
}
