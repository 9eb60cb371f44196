import type pg from 'pg';
import type { FreshDatabase } from '../testing/freshDatabase';
import { eventually } from '../testing/eventually';
import { freshDatabase } from '../testing/freshDatabase';
import { withTransaction } from './pool';
import type { Queryable } from './queryable';
import { isUnavailable, many, one } from './queryable';

let database: FreshDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

test('a connection that dies between two statements of a transaction fails that one, and nothing else', async () => {
  const { pool } = database;
  const attempt = withTransaction(pool, async (tx) => {
    const { pid } = await one<{ pid: number }>(tx, 'select pg_backend_pid() as pid');
    await many(pool, 'select pg_terminate_backend($1)', [pid]);
    await eventually(async () => (await many(pool, 'select 1 from pg_stat_activity where pid = $1', [pid])).length === 0);
    // The news has come while nobody was asking anything once another connection, opened after it, has been answered.
    await many(pool, 'select 1');
    await one(tx, 'select 1 as still');
  });
  const cause: unknown = await attempt.catch((reason: unknown) => reason);
  expect(cause).toBeInstanceOf(Error);
  expect(isUnavailable(cause)).toBe(true);
  expect(await withTransaction(pool, (tx) => one(tx, 'select 2 as next'))).toEqual({ next: 2 });
});

test('a connection is asked one thing at a time, and nothing once its transaction is over', async () => {
  const { pool } = database;
  await pool.query('create table tried (n int check (n > 0))');
  let [underWay, most] = [0, 0];
  const watched = {
    connect: async () => {
      const client = await pool.connect();
      const query = async (sql: string, values?: unknown[]): Promise<unknown> => {
        most = Math.max(most, ++underWay);
        return client.query(sql, values).finally(() => underWay--);
      };
      return { query, on: client.on.bind(client), off: client.off.bind(client), release: client.release.bind(client) };
    },
  } as unknown as Pick<pg.Pool, 'connect'>;
  const put = (tx: Queryable, n: number): Promise<unknown> => tx.query('insert into tried values ($1)', [n]);
  await withTransaction(watched, (tx) => Promise.all([put(tx, 1), put(tx, 2), put(tx, 3)]));
  let goOn = (): void => undefined;
  const ended = new Promise<void>((resolve) => (goOn = resolve));
  let late: Promise<unknown> | undefined;
  const failing = withTransaction(watched, (tx) => {
    late = ended.then(() => put(tx, 6));
    // The one that fails takes everything back; what waits behind it is still asked within the transaction.
    return Promise.all([put(tx, 4), put(tx, -1), put(tx, 5)]);
  });
  await expect(failing).rejects.toThrow('tried_n_check');
  goOn();
  await expect(late).rejects.toThrow('The transaction is over');
  expect(most).toBe(1);
  expect(await many(pool, 'select n from tried order by n')).toEqual([{ n: 1 }, { n: 2 }, { n: 3 }]);
});

test('making a partition gives up where somebody holds the table, and only that', async () => {
  const { given } = await one<{ given: string[] | null }>(
    database.pool,
    `select proconfig as given from pg_proc where proname = 'add_partitions'`,
  );
  expect(given).toEqual(['lock_timeout=5s']);
  await database.pool.query(`select add_partitions('2031-05-01')`);
  expect(
    await many(database.pool, `select current_setting('lock_timeout') as now, to_regclass('page_view_203105') is not null as made`),
  ).toEqual([{ now: '0', made: true }]);
});
