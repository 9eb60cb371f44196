import pg from 'pg';
import type { Queryable } from './queryable';
import { ReadSide } from './readSide';

export class DatabaseNotNamed extends Error {
  readonly code = 'db.notNamed';
  constructor() {
    super('CRINDLE_DATABASE_URL is not set. Start through ./crindle, which sets it.');
  }
}

/** The database itself, where `CRINDLE_DATABASE_URL` names a pooler in front of it: who listens, migrates or runs jobs needs a session of its own. */
const directUrl = (): string | undefined => process.env['CRINDLE_DATABASE_DIRECT_URL'];

/** Statements have names, and are planned once a connection, unless a pooler gives every transaction another connection. */
export const named = <T extends { readonly name: string }>(statement: T): Omit<T, 'name'> & { readonly name?: string } => {
  if (!directUrl()) return statement;
  const { name: _name, ...rest } = statement;
  return rest;
};

/**
 * `lockMs`: how long a statement waits for what somebody else holds. `waitMs`: how long for a connection, the pool's or a new one; a
 * screen on a busy machine would rather wait than fail, while a server that is not there at all refuses at once. `isDirect`: past a pooler.
 */
export function createPool(
  max = 10,
  { lockMs, waitMs, isDirect = false }: { lockMs?: number; waitMs?: number; isDirect?: boolean } = {},
): pg.Pool {
  const url = process.env['CRINDLE_DATABASE_URL'];
  if (!url) throw new DatabaseNotNamed();
  return poolOf(isDirect ? (directUrl() ?? url) : url, { max, lockMs, waitMs, isPooled: !isDirect && directUrl() !== undefined });
}

/** Reads where `CRINDLE_DATABASE_READ_URL` says, if it says so; `primary` is where it writes. */
export function createReadSide(primary: pg.Pool, max = 10): ReadSide {
  const url = process.env['CRINDLE_DATABASE_READ_URL'];
  return new ReadSide(primary, url ? poolOf(url, { max, isPooled: false }) : undefined);
}

/** A server that has whole sites, by the address that the directory has. */
export const nodePool = (url: string, { max = 10, lockMs, waitMs }: { max?: number; lockMs?: number; waitMs?: number } = {}): pg.Pool =>
  poolOf(url, { max, lockMs, waitMs, isPooled: false });

function poolOf(
  connectionString: string,
  { max, lockMs, waitMs = 25_000, isPooled }: { max: number; lockMs?: number | undefined; waitMs?: number | undefined; isPooled: boolean },
): pg.Pool {
  const pool = new pg.Pool({
    connectionString,
    max,
    connectionTimeoutMillis: waitMs,
    // A pooler takes no settings of a session: there they are its own (docs/several-machines.md).
    ...(isPooled ? {} : { statement_timeout: 30_000, ...(lockMs ? { lock_timeout: lockMs } : {}) }),
  });
  // An idle connection that breaks must not end the process; the next query gets a new one.
  pool.on('error', (cause) => console.error(`database connection lost: ${cause.message}`));
  return pool;
}

/** A connection to listen on, not yet open: past a pooler, which does not pass on what is announced. */
export const createListener = (): pg.Client =>
  new pg.Client({ connectionString: directUrl() ?? process.env['CRINDLE_DATABASE_URL'], keepAlive: true });

/**
 * Does the work between begin and commit; what it throws takes everything back. Of several queries at once each waits for the one before it. Within a
 * transaction that is under way it is part of that.
 */
export async function withTransaction<T>(pool: Pick<pg.Pool, 'connect'> | Queryable, work: (tx: Queryable) => Promise<T>): Promise<T> {
  if (!('connect' in pool)) return work(pool);
  const client = await pool.connect();
  let broken: Error | undefined;
  // A connection that breaks between two statements says so by an event, which nobody hears while it is lent out.
  const noteBroken = (cause: Error): void => void (broken = cause);
  client.on('error', noteBroken);
  const { tx, end } = inTurn(client);
  try {
    await client.query('begin');
    const result = await work(tx);
    await end('commit');
    return result;
  } catch (cause) {
    await end('rollback').catch((failure: unknown) => {
      broken = failure instanceof Error ? failure : new Error(String(failure));
    });
    throw cause;
  } finally {
    // One that is broken may say so again while it is being thrown away.
    if (!broken) client.off('error', noteBroken);
    client.release(broken);
  }
}

/** A connection asks one thing at a time. Whoever is late, when the transaction has ended, must not ask outside it. */
function inTurn(client: pg.PoolClient): { tx: Queryable; end: (how: 'commit' | 'rollback') => Promise<unknown> } {
  let last: Promise<unknown> = Promise.resolve();
  let isOver = false;
  const query: (...asked: unknown[]) => unknown = client.query.bind(client);
  const ask = (...asked: unknown[]): Promise<unknown> => {
    const answer = last.then(() => query(...asked));
    last = answer.catch(() => undefined);
    return answer;
  };
  const within = (...asked: unknown[]): unknown => {
    if (isOver) return Promise.reject(new Error('The transaction is over'));
    // What is streamed is not answered but read, and is asked alone.
    return 'submit' in Object(asked[0]) ? query(...asked) : ask(...asked);
  };
  return {
    tx: { query: within as Queryable['query'] },
    end: (how) => {
      isOver = true;
      return ask(how);
    },
  };
}
