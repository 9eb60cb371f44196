import type { FreshDatabase } from '../testing/freshDatabase';
import { eventually } from '../testing/eventually';
import { freshDatabase } from '../testing/freshDatabase';
import { withTransaction } from './pool';
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
