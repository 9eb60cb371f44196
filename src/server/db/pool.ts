import pg from 'pg';
import type { Queryable } from './queryable';

export class DatabaseNotNamed extends Error {
  readonly code = 'db.notNamed';
  constructor() {
    super('CRINDLE_DATABASE_URL is not set. Start through ./crindle, which sets it.');
  }
}

/** `lockMs`: how long a statement waits for what somebody else holds. */
export function createPool(max = 10, { lockMs }: { lockMs?: number } = {}): pg.Pool {
  const connectionString = process.env['CRINDLE_DATABASE_URL'];
  if (!connectionString) throw new DatabaseNotNamed();
  const pool = new pg.Pool({
    connectionString,
    max,
    connectionTimeoutMillis: 5000,
    statement_timeout: 30_000,
    ...(lockMs ? { lock_timeout: lockMs } : {}),
  });
  // An idle connection that breaks must not end the process; the next query gets a new one.
  pool.on('error', (cause) => console.error(`database connection lost: ${cause.message}`));
  return pool;
}

/** A connection to listen on, not yet open: past a pooler, which does not pass on what is announced. */
export const createListener = (): pg.Client =>
  new pg.Client({ connectionString: process.env['CRINDLE_DATABASE_LISTEN_URL'] ?? process.env['CRINDLE_DATABASE_URL'], keepAlive: true });

export async function withTransaction<T>(pool: pg.Pool, work: (tx: Queryable) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken: Error | undefined;
  // A connection that breaks between two statements says so by an event, which nobody hears while it is lent out.
  const noteBroken = (cause: Error): void => void (broken = cause);
  client.on('error', noteBroken);
  try {
    await client.query('begin');
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (cause) {
    await client.query('rollback').catch((failure: unknown) => {
      broken = failure instanceof Error ? failure : new Error(String(failure));
    });
    throw cause;
  } finally {
    // One that is broken may say so again while it is being thrown away.
    if (!broken) client.off('error', noteBroken);
    client.release(broken);
  }
}
