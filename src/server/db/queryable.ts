import pg from 'pg';

/** A pool or an open transaction. */
export type Queryable = Pick<pg.Pool, 'query'>;
export type Row = pg.QueryResultRow;

export class NotExactlyOneRow extends Error {
  readonly code = 'db.notExactlyOneRow';
  constructor(readonly met: number) {
    super(`Expected exactly one row, met ${met}`);
  }
}

export async function many<R extends Row>(db: Queryable, sql: string, values: readonly unknown[] = []): Promise<R[]> {
  return (await db.query<R>(sql, [...values])).rows;
}

export async function maybeOne<R extends Row>(db: Queryable, sql: string, values: readonly unknown[] = []): Promise<R | undefined> {
  const rows = await many<R>(db, sql, values);
  if (rows.length > 1) throw new NotExactlyOneRow(rows.length);
  return rows[0];
}

export async function one<R extends Row>(db: Queryable, sql: string, values: readonly unknown[] = []): Promise<R> {
  const row = await maybeOne<R>(db, sql, values);
  if (!row) throw new NotExactlyOneRow(0);
  return row;
}

/** Does the error come from the named constraint? */
export function violates(cause: unknown, constraint: string): boolean {
  return cause instanceof pg.DatabaseError && cause.constraint === constraint;
}

/** Two transactions that got in each other's way: the same again goes through. */
export const isTransient = (cause: unknown): boolean =>
  cause instanceof pg.DatabaseError && (cause.code === '40P01' || cause.code === '40001');

/** Errors that pass when the database is back, as opposed to a mistake of ours. */
export function isUnavailable(cause: unknown): boolean {
  const code = (cause as { code?: unknown } | null)?.code;
  if (typeof code !== 'string') return cause instanceof Error && /timeout|terminated|not queryable/i.test(cause.message);
  return /^(ECONN|EPIPE|ENOENT|ETIMEDOUT|57P0|08|53)/.test(code);
}
