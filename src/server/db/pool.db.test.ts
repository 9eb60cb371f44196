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
