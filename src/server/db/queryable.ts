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

/** The values themselves are to blame (classes 22 and 23, and texts too long for an index): sent again they would be refused again. */
export const isUnstorable = (cause: unknown): boolean => cause instanceof pg.DatabaseError && /^(22|23|54)/.test(cause.code ?? '');

/** Why the database takes nothing at present: it is away, may not be written, somebody holds what is to be written, or its disk is full. */
export type Outage = 'away' | 'readOnly' | 'locked' | 'full';

/** What passes by itself and is no mistake of ours or of what was sent; undefined for anything else. */
export function outageOf(cause: unknown): Outage | undefined {
  const code = (cause as { code?: unknown } | null)?.code;
  if (typeof code !== 'string')
    return cause instanceof Error && /timeout|terminated|not queryable/i.test(cause.message) ? 'away' : undefined;
  if (code === '25006') return 'readOnly';
  if (code === '55P03' || code === '57014') return 'locked';
  if (code === '53100' || code.startsWith('58')) return 'full';
  return /^(ECONN|EPIPE|ENOENT|ETIMEDOUT|57P0|08|53)/.test(code) ? 'away' : undefined;
}

/** May the database be read and not written? */
export async function isReadOnly(db: Queryable): Promise<boolean> {
  return (await one<{ is: boolean }>(db, `select pg_is_in_recovery() or current_setting('transaction_read_only')::boolean as is`)).is;
}

export const isUnavailable = (cause: unknown): boolean => outageOf(cause) !== undefined;

/** SQL: a text from outside as a uuid, and nothing where it is none, so that it is looked up by an index. `value` is a parameter. */
export const asUuid = (value: string): string =>
  `(case when ${value}::text ~* '^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$' then ${value}::text::uuid end)`;
